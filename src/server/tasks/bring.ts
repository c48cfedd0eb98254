import type { TakenIn } from '@/contract/arrivals';
import type { BRINGING_KINDS } from '@/contract/tasks';
import { dropOriginals } from '@/store/heldBytes';
import { addItems, endItem, hasItems, reportItem, type TakenItem } from '@/store/longTasks';
import { dropNote, keepNote } from '@/store/packNotes';
import { readSampleFile } from '@/store/samples';
import { endTask, type TakenTask } from '@/store/tasks';
import { database } from '@/store/database';
import { openArchive, type Within } from '../archive';
import { openDelivery } from '../deliveries';
import { openInPlace } from '../places';
import type { OpenPack, PackNote } from '../openPack';
import { knownOf, takeIn } from '../takeIn';
import { UserError } from '../userError';
import { eachItem } from './items';
import { isRefusal, isTrouble } from './trouble';

/** A task that brings files in. */
export type BringingTask = TakenTask<(typeof BRINGING_KINDS)[number]>;

/** Breaks in a transfer after which it is tried again, with longer and longer rests between, ms. */
const RESTS = [300, 1000, 3000, 8000, 20_000];
/** How often progress is written, ms. */
const REPORT_EVERY = 300;

/** The task was paused, cancelled or taken by somebody else while a file was coming in. */
class StoppedError extends Error {}

type BytesOf = (item: TakenItem, from: number) => Promise<AsyncIterable<Uint8Array>>;

/** Where the files of a task come from. */
interface Source {
  bytesOf: BytesOf;
  /** What the pack that it comes from says of a file; null for files of no pack. */
  noteOf?: OpenPack['noteOf'];
  /** What of an archive's limits is left for archives inside of it. */
  within?: Within;
  close: () => Promise<void>;
}

/** Brings all files of a task in, one after the other, to its end. `signal` stops it between two blocks. */
export async function bring(task: BringingTask, signal: AbortSignal): Promise<void> {
  let source: Source;
  try {
    source = await sourceOf(task);
  } catch (error) {
    if (!isRefusal(error)) throw error;
    await endTask(database(), task, error.message);
    return;
  }
  try {
    await eachItem(task, signal, (item) => bringOne(task, item, source, signal));
  } finally {
    await source.close();
  }
}

async function sourceOf(task: BringingTask): Promise<Source> {
  const close = async () => {};
  switch (task.kind) {
    case 'bring': {
      const { placeId } = (task as TakenTask<'bring'>).payload;
      return { bytesOf: ({ path }, from) => openInPlace(placeId, path, from), close };
    }
    case 'fetch':
      return { bytesOf: ({ path }, from) => openDelivery(path, from), close };
    case 'unpack': {
      const { originalId, folder, within } = (task as TakenTask<'unpack'>).payload;
      const archive = await openArchive(originalId, folder, within);
      // Begun again after a stop, it has its list already.
      if (!(await hasItems(task.taskId))) await addItems(task, [...archive.entries, ...archive.refused]);
      return {
        within: archive.inside,
        ...(archive.pack && { noteOf: archive.pack.noteOf }),
        bytesOf: async ({ path }, from) => after(await archive.bytesOf(path), from),
        close: async () => {
          archive.close();
          // Its task holds it, as long as anything of it can still come in.
          await dropOriginals(database(), [originalId]);
        },
      };
    }
  }
}

/** A stream without its first bytes: archives are unpacked from the beginning of each file. */
async function* after(stream: AsyncIterable<Uint8Array>, count: number): AsyncGenerator<Uint8Array> {
  let left = count;
  for await (const part of stream) {
    if (part.length > left) yield part.subarray(left);
    left = Math.max(0, left - part.length);
  }
}

/** Holds a file that came in against what its pack says of it; a sentence where it is not that file. */
async function heldAgainst(
  note: PackNote,
  name: string,
  { sampleId, outcome }: TakenIn,
): Promise<string | null> {
  const file = sampleId === null ? null : await readSampleFile(database(), sampleId);
  const isIt = file?.sha256 === note.sha256;
  // What is here already stays as it is settled.
  if (!isIt || outcome === 'already here' || outcome === 'in the bin') await dropNote(note.sha256);
  return isIt
    ? note.fault
    : `“${name}” differs from its pack’s checksum. It was imported without the pack’s settings.`;
}

async function bringOne(
  task: BringingTask,
  item: TakenItem,
  { bytesOf, noteOf, within }: Source,
  signal: AbortSignal,
): Promise<void> {
  const { name, folder, position, modifiedMs, byteLength } = item;
  for (let tries = 0; ; tries++) {
    try {
      const announced =
        byteLength !== null && modifiedMs !== null ? { name, folder, byteLength, modifiedMs } : null;
      const known = announced ? (await knownOf([announced]))[0] : { here: null, sampleId: null, received: 0 };
      if (known.here) {
        const outcome = known.here === 'bin' ? 'in the bin' : 'already here';
        await endItem(task, position, { outcome, sampleId: known.sampleId, received: 0 });
        return;
      }
      const note = (await noteOf?.(item.path)) ?? null;
      if (note?.own) await keepNote(note.sha256, note.own);
      let received = known.received;
      const source = await bytesOf(item, received);
      const from = received;
      async function* counted() {
        let reportedAt = 0;
        for await (const part of source) {
          received += part.length;
          if (Date.now() - reportedAt > REPORT_EVERY) {
            reportedAt = Date.now();
            if (signal.aborted || !(await reportItem(task, position, received))) throw new StoppedError();
          }
          yield part;
        }
      }
      const result = await takeIn({
        name,
        folder,
        byteLength,
        modifiedMs: announced ? modifiedMs : null,
        from,
        bytes: counted(),
        within,
      });
      const fault = note && (await heldAgainst(note, name, result));
      await endItem(
        task,
        position,
        fault ? { fault } : { outcome: result.outcome, sampleId: result.sampleId, received },
      );
      return;
    } catch (error) {
      if (error instanceof StoppedError) return;
      if (isTrouble(error)) throw error;
      const hopeless = error instanceof UserError && ![400, 409].includes(error.status);
      const words =
        error instanceof UserError
          ? error.message
          : `“${name}” could not be fetched: ${(error as Error).message}.`;
      if (hopeless || tries >= RESTS.length) {
        await endItem(task, position, {
          fault: hopeless ? words : `${words} Tried ${tries + 1} times.`,
          // An archive does not change.
          isFinal: hopeless && task.kind === 'unpack',
        });
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, RESTS[tries]));
      // Paused or cancelled meanwhile: what has arrived is kept.
      if (signal.aborted || !(await reportItem(task, position, null))) return;
    }
  }
}
