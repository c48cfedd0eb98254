import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { readHeard, writeHeard } from '@/store/heard';
import { fileInside } from './places';

/** Hashes of files by path, length and time of the last change: who walks up and down a folder asks again. */
const hashes = new Map<string, Promise<string>>();
const MOST_HASHES = 5000;

/** SHA-256 of what a file below a place holds. Throws UserError for what is not heard there. */
async function hashInside(placeId: number, path: string): Promise<string> {
  const { full, info } = await fileInside(placeId, path);
  const key = `${full} ${info.size} ${info.mtimeMs}`;
  let known = hashes.get(key);
  if (!known) {
    known = hashOf(full);
    hashes.set(key, known);
    known.catch(() => hashes.delete(key));
    if (hashes.size > MOST_HASHES) hashes.delete(hashes.keys().next().value!);
  }
  return known;
}

async function hashOf(full: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(full), hash);
  return hash.digest('hex');
}

/** What was measured of a file below a place: there, or of the same bytes in the library; null when it was not yet. */
export async function heardInside(placeId: number, path: string): Promise<Measurement | null> {
  return readHeard(await hashInside(placeId, path));
}

/** Remembers what a page measured of a file below a place. */
export async function keepHeard(placeId: number, path: string, input: unknown): Promise<void> {
  await writeHeard(await hashInside(placeId, path), measurement.parse(input));
}
