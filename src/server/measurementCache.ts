import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { readCachedMeasurement, cacheMeasurement } from '@/store/measurementCache';
import { perFile } from './perFile';
import { fileInside } from './places';

/** SHA-256 of what a file holds, hex: who walks up and down a folder asks again. */
const hashOnce = perFile(5000, async (full) => {
  const hash = createHash('sha256');
  await pipeline(createReadStream(full), hash);
  return hash.digest('hex');
});

/** The same of a file below a place. Throws UserError for what is not heard there. */
const hashInside = async (placeId: number, path: string) => hashOnce(await fileInside(placeId, path));

/** What was measured of a file below a place: there, or of the same bytes in the library; null when it was not yet. */
export async function measuredInside(placeId: number, path: string): Promise<Measurement | null> {
  return readCachedMeasurement(await hashInside(placeId, path));
}

/** Remembers what a page measured of a file below a place. */
export async function keepMeasured(placeId: number, path: string, input: unknown): Promise<void> {
  await cacheMeasurement(await hashInside(placeId, path), measurement.parse(input));
}
