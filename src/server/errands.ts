import { z } from 'zod';
import { knownOf, takeIn } from './takeIn';
import { log } from './log';
import { openArchive, type OpenArchive } from './archive';
import { openDelivery } from './deliveries';
import { openInPlace } from './places';
import { UserError } from './userError';
import {
  addErrandItems,
  claimErrand,
  endErrand,
  endItem,
  ERRAND_MOVES,
  forgetErrand,
  moveErrand,
  nextItem,
  reportItem,
  type ClaimedErrand,
  type ClaimedItem,
} from '@/store/errands';
import { forgetOriginal } from '@/store/originalBytes';

export { listErrands } from '@/store/errands';

const moveRequest = z.object({ do: z.enum([...ERRAND_MOVES, 'forget'] as const) });

/** Pauses, resumes, cancels, tries again or forgets an errand. Throws UserError when it is not in a state for that. */
export async function directErrand(errandId: number, input: unknown): Promise<void> {
  const { do: what } = moveRequest.parse(input);
  const moved = what === 'forget' ? await forgetErrand(errandId) : await moveErrand(errandId, what);
  if (!moved) throw new UserError('This errand has ended or changed in the meantime.', 409);
}

/** Breaks in a transfer after which it is tried again, with longer and longer rests between, ms. */
const RESTS = [300, 1000, 3000, 8000, 20_000];
/** How often progress is written, ms. */
const REPORT_EVERY = 300;

/** The errand was paused or cancelled while a file was coming in. */
class StoppedError extends Error {}

const sources = {
  zip: z.object({ originalId: z.number(), folder: z.string() }),
  place: z.object({ placeId: z.number() }),
  delivery: z.object({ packId: z.string() }),
};

/** Takes the next errand and goes it to its end; false when none waits. `signal` stops it between two blocks. */
export async function goNextErrand(runner: number, signal: AbortSignal): Promise<boolean> {
  const errand = await claimErrand(runner);
  if (!errand) return false;
  try {
    const open = await opener(errand);
    try {
      for (;;) {
        const item = signal.aborted ? null : await nextItem(errand.errandId);
        if (!item) break;
        await bring(errand.errandId, item, open.bytesOf, signal);
      }
    } finally {
      await open.close();
    }
    if (!signal.aborted) {
      await endErrand(errand.errandId, null);
      log.info({ event: 'errand done', errand: errand.errandId, kind: errand.kind });
    }
  } catch (error) {
    if (!(error instanceof UserError))
      log.error({ event: 'errand failed', errand: errand.errandId, err: error });
    const words =
      error instanceof UserError
        ? error.message
        : 'Something went wrong inside Grento; the log has the details.';
    await endErrand(errand.errandId, words);
  }
  return true;
}

type BytesOf = (item: ClaimedItem, from: number) => Promise<AsyncIterable<Uint8Array>>;

async function opener({
  errandId,
  kind,
  source,
}: ClaimedErrand): Promise<{ bytesOf: BytesOf; close: () => Promise<void> }> {
  if (kind === 'place') {
    const { placeId } = sources.place.parse(source);
    return { bytesOf: ({ path }, from) => openInPlace(placeId, path, from), close: async () => {} };
  }
  if (kind === 'delivery')
    return { bytesOf: ({ path }, from) => openDelivery(path, from), close: async () => {} };
  const { originalId, folder } = sources.zip.parse(source);
  const archive: OpenArchive = await openArchive(originalId, folder);
  // Begun anew after a stop, it has its list already.
  await addMissing(errandId, archive);
  return {
    bytesOf: async ({ path }, from) => after(await archive.bytesOf(path), from),
    close: async () => {
      archive.close();
      await forgetOriginal(originalId, errandId);
    },
  };
}

/** A stream without its first bytes: archives are unpacked from the beginning of each file. */
async function* after(stream: AsyncIterable<Uint8Array>, count: number): AsyncGenerator<Uint8Array> {
  let left = count;
  for await (const part of stream) {
    if (part.length > left) yield part.subarray(left);
    left = Math.max(0, left - part.length);
  }
}

async function addMissing(errandId: number, { entries, refused }: OpenArchive): Promise<void> {
  const first = await nextItem(errandId);
  if (first) return;
  await addErrandItems(errandId, [...entries, ...refused]);
  for (let i = 0; i < refused.length; i++)
    await endItem(errandId, entries.length + i, { fault: refused[i].fault });
}

async function bring(
  errandId: number,
  item: ClaimedItem,
  bytesOf: BytesOf,
  signal: AbortSignal,
): Promise<void> {
  const { name, folder, position, modifiedMs } = item;
  for (let tries = 0; ; tries++) {
    try {
      const announced =
        item.byteLength !== null && modifiedMs !== null
          ? { name, folder, byteLength: item.byteLength, modifiedMs }
          : null;
      const known = announced ? (await knownOf([announced]))[0] : { here: null, received: 0, refusal: null };
      if (known.here) {
        await endItem(errandId, position, { outcome: 'already here', sampleId: null, received: 0 });
        return;
      }
      let received = known.received;
      const source = await bytesOf(item, received);
      const from = received;
      async function* counted() {
        let reportedAt = 0;
        for await (const part of source) {
          received += part.length;
          if (Date.now() - reportedAt > REPORT_EVERY) {
            reportedAt = Date.now();
            if (signal.aborted || !(await reportItem(errandId, position, received))) throw new StoppedError();
          }
          yield part;
        }
      }
      const result = await takeIn({
        name,
        folder,
        byteLength: item.byteLength,
        modifiedMs: announced ? modifiedMs : null,
        from,
        bytes: counted(),
      });
      await endItem(errandId, position, { outcome: result.outcome, sampleId: result.sampleId, received });
      return;
    } catch (error) {
      if (error instanceof StoppedError) return;
      const hopeless = error instanceof UserError && ![400, 409].includes(error.status);
      const words =
        error instanceof UserError
          ? error.message
          : `“${name}” could not be fetched: ${(error as Error).message}.`;
      if (hopeless || tries >= RESTS.length) {
        await endItem(errandId, position, {
          fault: hopeless ? words : `${words} It was tried ${tries + 1} times.`,
        });
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, RESTS[tries]));
      // Paused or cancelled meanwhile: what has arrived is kept.
      if (signal.aborted || !(await reportItem(errandId, position, 0))) return;
    }
  }
}
