import { createHash } from 'node:crypto';
import { announcedFile, type AnnouncedFile, type KnownFiles, type TakenIn } from '@/contract/arrivals';
import { isArchiveName, isZip } from '@/core/formats/sniff';
import { readNameAndFolder } from '@/core/readings/nameReading';
import { z } from 'zod';
import { database, transaction } from '@/store/database';
import { announceSamples } from '@/store/notifications';
import {
  InterruptedError,
  readOriginal,
  receivedBytes,
  storeOriginal,
  TooLargeError,
  WrongPlaceError,
  type StoredOriginal,
} from '@/store/originalBytes';
import { dropOriginals } from '@/store/heldBytes';
import { insertFirstReadings } from '@/store/readings';
import { filesHere, insertSample, samplesOfOriginal } from '@/store/samples';
import { makeTask } from '@/store/longTasks';
import { enqueueMeasuring } from '@/store/tasks';
import type { Within } from './archive';
import { inMegabytes, largestFileBytes } from './limits';
import { log } from './log';
import { UserError } from './userError';

export interface Arrival {
  name: string;
  folder: string;
  /** What the sender says; null when it does not say. */
  byteLength: number | null;
  /** When the file was last changed where it comes from, ms since 1970; null when nobody says. */
  modifiedMs: number | null;
  /** Where in the file the bytes begin: what `knownOf` said was received. */
  from: number;
  /** Taken in as a new sample even where one with its bytes and name lies in the bin. */
  anew?: boolean;
  bytes: AsyncIterable<Uint8Array>;
  /** What of the limits is left for it, where it is exported of an archive and is one itself. */
  within?: Within;
}

/**
 * Takes a file in as it is: its bytes are streamed into the store, its name is read, and its measurement is
 * put into the queue. Bytes that are known under the same name give the sample that is there, also where it lies in
 * the bin with its work; under another name they give a new sample that shares the bytes. An archive is unpacked by
 * a task. An arrival whose
 * length and time are told keeps what it has when it breaks off. Throws UserError with a sentence that names
 * the file.
 */
export async function takeIn(arrival: Arrival): Promise<TakenIn> {
  const { name, folder, byteLength, modifiedMs, from, bytes } = arrival;
  const limit = largestFileBytes();
  const tooLarge = () => new UserError(tooLargeWords(name), 413);
  if (byteLength !== null && byteLength > limit) throw tooLarge();
  const announced =
    byteLength !== null && modifiedMs !== null
      ? { key: keyOf({ name, folder, byteLength, modifiedMs }), byteLength, from }
      : null;
  const original = await storeOriginal(bytes, limit, announced).catch((error) => {
    if (error instanceof TooLargeError) throw tooLarge();
    if (error instanceof WrongPlaceError)
      throw new UserError(`“${name}” is being uploaded twice at once, or resumed at the wrong place.`, 409);
    if (error instanceof InterruptedError)
      throw new UserError(`“${name}” was interrupted; upload it again to resume.`, 400);
    throw error;
  });
  const result = (await isArchive(original))
    ? await unpack(original, arrival)
    : await becomeSample(original, arrival);
  log.info({
    event: 'taken in',
    name,
    bytes: original.byteLength,
    outcome: result.outcome,
    sample: result.sampleId,
  });
  return result;
}

async function becomeSample(
  original: StoredOriginal,
  { name, folder, modifiedMs, anew = false }: Arrival,
): Promise<TakenIn> {
  return transaction(async (client) => {
    const siblings = await samplesOfOriginal(client, original.originalId);
    const same = siblings.find((sibling) => sibling.name === name && sibling.folder === folder);
    // What was merged is here as that which it was merged into.
    const here = same?.mergedInto ?? (same && !same.binned ? same.sampleId : null);
    if (same && here) return { sampleId: here, outcome: 'already here', sameAs: same.name, inBin: null };
    const thrown = siblings.find(({ binned, mergedInto }) => binned && !mergedInto);
    const inBin = thrown ? { sampleId: thrown.sampleId, name: thrown.name } : null;
    if (same && !anew) return { sampleId: same.sampleId, outcome: 'in the bin', sameAs: same.name, inBin };
    const { originalId } = original;
    const sampleId = await insertSample(client, { originalId, name, folder, modifiedMs });
    await insertFirstReadings(client, sampleId, readNameAndFolder(name, folder));
    await enqueueMeasuring(client, [sampleId], {});
    await announceSamples(client, [sampleId], 'arrived');
    const twin = siblings.find(({ binned }) => !binned);
    const [outcome, sameAs] = twin ? (['duplicate', twin.name] as const) : (['new', null] as const);
    return { sampleId, outcome, sameAs, inBin: twin ? null : inBin };
  });
}

async function isArchive({ originalId, byteLength }: StoredOriginal): Promise<boolean> {
  for await (const part of readOriginal(originalId, 0, Math.min(4, byteLength))) return isZip(part);
  return false;
}

async function unpack({ originalId }: StoredOriginal, { name, folder, within }: Arrival): Promise<TakenIn> {
  // A limit is shared among those that say what they are; others would each have it to themselves.
  if (within && !isArchiveName(name)) {
    await dropOriginals(database(), [originalId]);
    throw new UserError(`“${name}” is an archive inside another one, but is not named as one.`, 422);
  }
  const inside = [folder, name.replace(/\.zip$/i, '')].filter(Boolean).join('/');
  await makeTask(
    database(),
    'unpack',
    `unpacking “${name}”`,
    { originalId, folder: inside, ...(within ? { within } : {}) },
    [],
  );
  return { sampleId: null, outcome: 'unpacking', sameAs: null, inBin: null };
}

function tooLargeWords(name: string): string {
  return `“${name}” is larger than ${inMegabytes(largestFileBytes())}, the limit for imports.`;
}

/** What an unfinished arrival is known by. */
function keyOf({ name, folder, byteLength, modifiedMs }: AnnouncedFile): string {
  return createHash('sha256')
    .update(JSON.stringify([folder, name, byteLength, modifiedMs]))
    .digest('hex');
}

const announcedFiles = z.array(announcedFile).max(2000);

/** What is here of files that somebody is about to send: those of the same place, length and time are not sent again. */
export async function knownOf(input: unknown): Promise<KnownFiles> {
  const files = announcedFiles.parse(input);
  const keys = files.map(keyOf);
  const [here, received] = await Promise.all([filesHere(files), receivedBytes(keys)]);
  return files.map(({ name, byteLength }, i) => ({
    here: here[i]?.where ?? null,
    sampleId: here[i]?.sampleId ?? null,
    received: here[i] ? 0 : (received.get(keys[i]) ?? 0),
    refusal: byteLength > largestFileBytes() ? tooLargeWords(name) : null,
  }));
}
