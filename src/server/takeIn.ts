import type { TakenIn } from '@/core/library/entry';
import { readName } from '@/core/readings/nameReading';
import { transaction } from '@/store/database';
import { enqueueMeasurement } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { storeOriginal, TooLargeError } from '@/store/originalBytes';
import { addReadings } from '@/store/readings';
import { insertSample, samplesOfOriginal } from '@/store/samples';
import { inMegabytes, largestFileBytes } from './limits';
import { log } from './log';
import { UserError } from './userError';

export interface Arrival {
  name: string;
  folder: string;
  /** What the sender says; null when it does not say. */
  byteLength: number | null;
  bytes: AsyncIterable<Uint8Array>;
}

/**
 * Takes a file in as it is: its bytes are streamed into the store, its name is read, and its measurement is
 * put into the queue. Bytes that are known under the same name give the sample that is there; under another
 * name they give a new sample that shares the bytes. Throws UserError with a sentence that names the file.
 */
export async function takeIn({ name, folder, byteLength, bytes }: Arrival): Promise<TakenIn> {
  const limit = largestFileBytes();
  const tooLarge = () =>
    new UserError(`“${name}” is larger than ${inMegabytes(limit)}, the most that is taken in.`, 413);
  if (byteLength !== null && byteLength > limit) throw tooLarge();
  const original = await storeOriginal(bytes, limit).catch((error) => {
    throw error instanceof TooLargeError ? tooLarge() : error;
  });
  const result = await transaction(async (client): Promise<TakenIn> => {
    const siblings = await samplesOfOriginal(client, original.originalId);
    const same = siblings.find((sibling) => sibling.name === name && sibling.folder === folder);
    if (same) return { sampleId: same.sampleId, outcome: 'already here', sameAs: same.name };
    const sampleId = await insertSample(client, { originalId: original.originalId, name, folder });
    await addReadings(client, sampleId, readName(name));
    await enqueueMeasurement(client, sampleId, {});
    await announceSample(client, { sampleId, what: 'arrived' });
    return { sampleId, outcome: siblings.length ? 'duplicate' : 'new', sameAs: siblings[0]?.name ?? null };
  });
  log.info({
    event: 'taken in',
    name,
    bytes: original.byteLength,
    outcome: result.outcome,
    sample: result.sampleId,
  });
  return result;
}
