import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';
import yazl from 'yazl';
import { archiveRequest, type ArchiveRequest } from '@/contract/archives';
import { stemAndEnding } from '@/core/formats/endings';
import { eachOnce, safeStem } from '@/library/packs/fileNames';
import { log } from './log';
import { originalRange } from './originalRange';
import { taggedCopy } from './taggedCopy';
import { UserError } from './userError';

/** An archive that was asked for and not fetched is forgotten after this, ms. */
const KEPT = 5 * 60_000;
const MOST_KEPT = 200;

/** What was asked for, by its key; handlers of one process do not share their modules. */
const asked = ((
  globalThis as { grentoArchives?: Map<string, ArchiveRequest & { at: number }> }
).grentoArchives ??= new Map());

/** Keeps what an archive is to hold until it is fetched. Returns its key. */
export function askArchive(input: unknown): { key: string } {
  const request = archiveRequest.parse(input);
  for (const [key, { at }] of asked) if (Date.now() - at > KEPT || asked.size >= MOST_KEPT) asked.delete(key);
  const key = randomUUID();
  asked.set(key, { ...request, at: Date.now() });
  return { key };
}

/**
 * The archive of a key: its samples one after the other, uncompressed, each opened when its turn comes. What cannot be
 * tagged comes as it arrived, what cannot be read at all is left out; a text at the end says so. Throws UserError for
 * an unknown key.
 */
export function sampleArchive(key: string): AsyncIterable<Uint8Array> {
  const request = asked.get(key);
  if (!request)
    throw new UserError('This archive has been downloaded already or has expired; request it again.', 404);
  asked.delete(key);
  const zip = new yazl.ZipFile();
  void fill(zip, request).catch((error) => {
    log.error({ event: 'archive failed', err: error });
    (zip.outputStream as Readable).destroy(error as Error);
  });
  return zip.outputStream as Readable;
}

async function fill(zip: yazl.ZipFile, { sampleIds, as }: ArchiveRequest): Promise<void> {
  const unique = eachOnce();
  const nameOf = (name: string) => {
    const [stem, ending] = stemAndEnding(name);
    return unique(safeStem(stem), ending);
  };
  const troubles: string[] = [];
  const output = zip.outputStream as Readable;
  for (const sampleId of sampleIds) {
    const { name, bytes } = await fileOf(sampleId, as, troubles).catch((error: Error) => {
      if (!(error instanceof UserError)) throw error;
      troubles.push(error.message);
      return { name: '', bytes: null };
    });
    if (!bytes) continue;
    if (output.destroyed) {
      await bytes.return(undefined);
      return;
    }
    const stream = Readable.from(bytes);
    const stop = () => void stream.destroy();
    output.once('close', stop);
    zip.addReadStream(stream, nameOf(name), { compress: false });
    // One at a time: the next is opened when this one is through.
    await finished(stream).catch((error) => {
      if (!output.destroyed) throw error;
    });
    output.off('close', stop);
    if (output.destroyed) return;
  }
  if (troubles.length > 0)
    zip.addBuffer(Buffer.from(`${troubles.join('\n')}\n`), unique('What differs', '.txt'));
  zip.end();
}

/** A sample as a file: tagged, or as it arrived; also where it cannot be tagged, which `troubles` says then. */
export async function fileOf(sampleId: string, as: ArchiveRequest['as'], troubles: string[]) {
  if (as === 'original') return originalRange(sampleId, null);
  try {
    return await taggedCopy(sampleId);
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    troubles.push(`${error.message} The original is included instead.`);
    return originalRange(sampleId, null);
  }
}
