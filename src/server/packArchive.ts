import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import yazl from 'yazl';
import { bagName, listsOf, tagFilesOf } from '@/library/packs/bag';
import { database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { readPart, readWritings, readWritten, type Part } from '@/store/packWritings';
import { log } from './log';
import { packNow } from './packs';
import { UserError } from './userError';

export interface PackArchive {
  name: string;
  /** null where it cannot be told. */
  byteLength: number | null;
  bytes: AsyncIterable<Uint8Array>;
}

/**
 * The archive of what was written last of a pack: one folder, which is a bag (RFC 8493). It is put together while it is read, a file in
 * memory at a time, and the same writing always comes to the same bytes. Throws UserError where nothing was written to its end.
 */
export async function packArchive(packId: string): Promise<PackArchive> {
  await packNow(packId);
  const { done } = await readWritings(database(), packId);
  if (!done) throw new UserError('This pack has not been written yet.', 404);
  const { writingId, pack, begunAt: writtenAt, faults } = done;
  const { samples, parts } = await readWritten(writingId);
  const lists = listsOf({ pack, samples, writtenAt, faults }).map(({ path, text }) => {
    const bytes = Buffer.from(text);
    return { path, bytes, sha256: hashOf(bytes), byteLength: bytes.length };
  });
  const root = bagName(pack);
  const zip = new yazl.ZipFile();
  // Before anything is put in: it is read at once.
  zip.on('error', (error) => {
    log.error({ event: 'pack archive failed', pack: packId, err: error });
    (zip.outputStream as Readable).destroy(error as Error);
  });
  const how = { mtime: new Date(writtenAt), compress: false };
  for (const { path, text } of tagFilesOf({ pack, writtenAt }, [...parts, ...lists], hashOf))
    zip.addBuffer(Buffer.from(text), `${root}/${path}`, how);
  for (const { path, bytes } of lists) zip.addBuffer(bytes, `${root}/data/${path}`, how);
  for (const part of parts)
    zip.addReadStreamLazy(`${root}/data/${part.path}`, { ...how, size: part.byteLength }, (open) =>
      open(null, Readable.from(bytesOf(writingId, part), { objectMode: false })),
    );
  const byteLength = await new Promise<number>((resolve) =>
    zip.end({ forceZip64Format: false, comment: '' }, resolve as () => void),
  );
  return {
    name: `${root}.zip`,
    byteLength: byteLength >= 0 ? byteLength : null,
    bytes: zip.outputStream as Readable,
  };
}

async function* bytesOf(writingId: number, { path, originalId, byteLength }: Part) {
  if (originalId === null) yield await readPart(writingId, path);
  else yield* readOriginal(originalId, 0, byteLength);
}

const hashOf = (content: string | Uint8Array) => createHash('sha256').update(content).digest('hex');
