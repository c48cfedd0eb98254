import { NOTHING_HANGS, type Hanging } from '@/contract/bin';
import pRetry from 'p-retry';
import type { Done, Outcome } from '@/library/change/change';
import { wordsOf } from '@/library/change/words';
import {
  BULK_AT_ONCE,
  bulkRequest,
  type BulkAction,
  type BulkResult,
  type BulkSteps,
  type BulkUndone,
} from '@/contract/orders';
import * as steps from '@/store/bulkSteps';
import { readCurator } from '@/store/curators';
import { database, transaction } from '@/store/database';
import { announceSamples } from '@/store/notifications';
import { blendStore } from '@/store/blends';
import { packStore } from '@/store/packs';
import { countChildren } from '@/store/recipes';
import { enqueueMeasuring } from '@/store/tasks';
import { log } from '../log';
import { once } from '../once';
import { isBusy, UserError } from '../userError';
import { changeInside, type Hand, toldRefusal } from '.';

/**
 * Does one thing to many samples: those that it cannot be done to are named with the reason, those that somebody has
 * changed since they were listed among them. The step stands before anything of it is done, and keeps what was done
 * in the same transaction: it can be taken back whatever comes.
 */
export async function doInBulk(input: unknown, hand: Hand): Promise<BulkResult> {
  const { order, targets, step: sentAs } = bulkRequest.parse(input);
  const words = wordsOfAction(order);
  const { curatorId } = await readCurator(database(), hand);
  const step = await steps.beginStep(database(), words, order, curatorId, sentAs);
  const { done, refused } = await once(async (client) => {
    const sampleIds = targets.map(({ sampleId }) => sampleId);
    if (order.do === 'measure') {
      await enqueueMeasuring(client, sampleIds, { range: order.range, meter: order.meter }, ASKED_FOR);
      await announceSamples(client, sampleIds, 'changed');
      return {
        done: sampleIds.map((sampleId): Done => ({ sampleId, made: null, binned: null })),
        refused: [],
      };
    }
    const outcome = await changeInside(client, { do: 'order', order, targets }, sampleIds, hand);
    await steps.addToStep(client, step, outcome.done);
    return { done: outcome.done, refused: outcome.refused };
  });
  log.info({ event: 'bulk', words, step, done: done.length, refused: refused.length });
  return {
    stepId: step,
    words,
    done: done.length,
    hanging: order.do === 'bin' ? await hangingOn(done.map(({ sampleId }) => sampleId)) : NOTHING_HANGS,
    made: madeBy(done),
    refused: refused.map(toldRefusal),
  };
}

/** What hangs on samples that went into the bin. */
async function hangingOn(sampleIds: readonly string[]): Promise<Hanging> {
  const [made, blends, packs] = await Promise.all([
    countChildren(sampleIds),
    blendStore.countHolding(sampleIds),
    packStore.countHolding(sampleIds),
  ]);
  return { made, blends, packs };
}

const madeBy = (done: readonly Done[]) =>
  done.flatMap(({ sampleId, made }) => (made === null ? [] : [{ sampleId, base: made }]));

/** Ahead of new arrivals: somebody waits for it. */
export const ASKED_FOR = 10;

function wordsOfAction(action: BulkAction): string {
  if (action.do !== 'measure') return wordsOf(action);
  return action.range
    ? `measured again between ${action.range.low} and ${action.range.high} BPM`
    : action.meter
      ? `measured again in ${action.meter.beatsPerBar}/${action.meter.beatUnit}`
      : 'measured again';
}

/** The newest step that can be taken back. */
export async function bulkStepsNow(): Promise<BulkSteps> {
  return { undo: await steps.newestStep() };
}

/** One request takes back no longer than this, ms; the next goes on. */
const LONGEST = 15_000;
/** How often a portion is tried whose rows are in use, and how long is waited in between, ms. */
const TRIES = { retries: 3, minTimeout: 300 };

/**
 * Takes a step back where its samples were not changed since, portion by portion, each at once with what of the step is then left: sent
 * again it goes on where it stopped. Returns how much is left; throws UserError for a step that somebody else made, unless that is meant.
 */
export async function undoBulk(stepId: number, hand: Hand, evenForeign = false): Promise<BulkUndone> {
  const step = await steps.readStep(stepId);
  if (!step) throw new UserError('This step was taken back already.', 409);
  const me = await readCurator(database(), hand);
  if (step.curatorId !== null && step.curatorId !== me.curatorId && !evenForeign) {
    const maker = await readCurator(database(), step.curatorId);
    throw new UserError(`The step “${step.words}” is ${maker.name}’s.`, 409, 'foreign');
  }
  const result: BulkUndone = { words: step.words, undone: 0, left: 0, made: [], refused: [] };
  for (const end = Date.now() + LONGEST; Date.now() < end;) {
    const some = await pRetry(() => undoPortion(stepId, hand), {
      ...TRIES,
      shouldRetry: ({ error }) => isBusy(error),
    });
    if (some.length === 0) break;
    for (const { done, refused } of some) {
      result.undone += done.length;
      result.made.push(...madeBy(done));
      result.refused.push(...refused.map(toldRefusal));
    }
  }
  result.left = await steps.endStep(stepId);
  log.info({ event: 'step taken back', step: stepId, undone: result.undone, left: result.left });
  return result;
}

/** Takes back what was done to the next samples of a step. */
const undoPortion = (stepId: number, hand: Hand) =>
  transaction(async (client) => {
    const items = await steps.takeStepItems(client, stepId, BULK_AT_ONCE);
    // The step was asked for as a whole: each of its revisions may be taken back by whoever may take it back.
    const orders = [
      { order: { do: 'undo', evenForeign: true }, items: items.filter(({ made }) => made !== null) },
      { order: { do: 'restore' }, items: items.filter(({ binned }) => binned === true) },
      { order: { do: 'bin' }, items: items.filter(({ binned }) => binned === false) },
    ] as const;
    const outcomes: Pick<Outcome, 'done' | 'refused'>[] = items.length > 0 ? [{ done: [], refused: [] }] : [];
    for (const { order, items: some } of orders) {
      if (some.length === 0) continue;
      const targets = some.map(({ sampleId, made }) => ({ sampleId, base: made }));
      const sampleIds = targets.map(({ sampleId }) => sampleId);
      outcomes.push(await changeInside(client, { do: 'order', order, targets }, sampleIds, hand));
    }
    return outcomes;
  });
