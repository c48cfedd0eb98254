import { NOTHING_HANGS, type Hanging } from '@/contract/bin';
import pRetry from 'p-retry';
import type { Done, ChangeResult } from '@/library/change/change';
import { wordsOf } from '@/library/change/words';
import {
  BULK_AT_ONCE,
  bulkRequest,
  type BulkAction,
  type BulkResult,
  type BulkSteps,
  type BulkUndone,
  stepScreen,
  type Target,
} from '@/contract/orders';
import * as steps from '@/store/bulkSteps';
import { readCurator } from '@/store/curators';
import { database, transaction } from '@/store/database';
import { announceSamples } from '@/store/notifications';
import { blendStore } from '@/store/blends';
import { packStore } from '@/store/packs';
import { countChildren } from '@/store/recipes';
import { sharedTempo } from '@/library/samples/sharedTempo';
import { readMeasuredTempi } from '@/store/samples';
import { enqueueMeasuring } from '@/store/tasks';
import { log } from '../log';
import { once } from '../once';
import { isBusy, UserError } from '../userError';
import { changeInside, type Actor, refusalMessage } from '.';

/**
 * Does one thing to many samples: those that it cannot be done to are named with the reason, those that somebody has
 * changed since they were listed among them. The step stands before anything of it is done, and keeps what was done
 * in the same transaction: it can be undone whatever comes.
 */
export async function doInBulk(input: unknown, actor: Actor): Promise<BulkResult> {
  const { order, targets, step: sentAs, screen } = bulkRequest.parse(input);
  const words = wordsOfAction(order);
  const expected = order.do === 'measure' && order.together ? await sharedBy(targets) : null;
  const { curatorId } = await readCurator(database(), actor);
  const step = await steps.beginStep(database(), { words, action: order, curatorId, screen, sentAs });
  const { done, refused } = await once(async (client) => {
    const sampleIds = targets.map(({ sampleId }) => sampleId);
    if (order.do === 'measure') {
      await enqueueMeasuring(
        client,
        sampleIds,
        { range: order.range, meter: order.meter, expected },
        ASKED_FOR,
      );
      await announceSamples(client, sampleIds, 'changed');
      return {
        done: sampleIds.map((sampleId): Done => ({ sampleId, made: null, binned: null })),
        refused: [],
      };
    }
    const result = await changeInside(client, { do: 'order', order, targets }, sampleIds, actor);
    await steps.addToStep(client, step, result.done);
    return { done: result.done, refused: result.refused };
  });
  log.info({ event: 'bulk', words, step, done: done.length, refused: refused.length });
  return {
    stepId: step,
    words,
    done: done.length,
    hanging: order.do === 'bin' ? await hangingOn(done.map(({ sampleId }) => sampleId)) : NOTHING_HANGS,
    made: madeBy(done),
    refused: refused.map(refusalMessage),
  };
}

/** The tempo that most of them agree on, to two digits. Throws UserError where there is none. */
async function sharedBy(targets: readonly Target[]): Promise<{ bpm: number; sureness: number }> {
  const shared = sharedTempo(await readMeasuredTempi(targets.map(({ sampleId }) => sampleId)));
  if (!shared)
    throw new UserError(
      'No tempo is shared by most of these samples, so they cannot be measured together. Select those that were made together.',
      409,
    );
  return { bpm: Math.round(100 * shared.bpm) / 100, sureness: shared.sureness };
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
  if (action.together) return 'measured together';
  return action.range
    ? `measured again between ${action.range.low} and ${action.range.high} BPM`
    : action.meter
      ? `measured again in ${action.meter.beatsPerBar}/${action.meter.beatUnit}`
      : 'measured again';
}

/** The newest step of a screen that can be undone, and the one that can be redone; null: of any screen. */
export const bulkStepsNow = (screen: unknown = null): Promise<BulkSteps> =>
  steps.newestSteps(stepScreen.parse(screen));

/** One request undoes no longer than this, ms; the next goes on. */
const LONGEST = 15_000;
/** How often a portion is tried whose rows are in use, and how long is waited in between, ms. */
const TRIES = { retries: 3, minTimeout: 300 };

/** Takes a step back where its samples were not changed since (`moveStep`). */
export const undoBulk = (stepId: number, actor: Actor, evenForeign = false) =>
  moveStep(stepId, 'undo', actor, evenForeign);

/** Does a step again that was undone, where its samples were not changed since. */
export const redoBulk = (stepId: number, actor: Actor, evenForeign = false) =>
  moveStep(stepId, 'redo', actor, evenForeign);

/**
 * Takes a step back, or does it again, portion by portion, each at once with what of the step is then left: sent again it goes on where it
 * stopped. Returns how much is left; throws UserError for a step that somebody else made, unless that is meant.
 */
async function moveStep(
  stepId: number,
  way: steps.StepWay,
  actor: Actor,
  evenForeign: boolean,
): Promise<BulkUndone> {
  const step = await steps.readStep(stepId, way);
  if (!step)
    throw new UserError(
      way === 'undo' ? 'This step has been undone already.' : 'This step has been redone already.',
      409,
    );
  const me = await readCurator(database(), actor);
  if (step.curatorId !== null && step.curatorId !== me.curatorId && !evenForeign) {
    const maker = await readCurator(database(), step.curatorId);
    throw new UserError(`The step “${step.words}” is ${maker.name}’s.`, 409, 'foreign');
  }
  const result: BulkUndone = { words: step.words, undone: 0, left: 0, made: [], refused: [] };
  for (const end = Date.now() + LONGEST; Date.now() < end;) {
    const some = await pRetry(() => movePortion(stepId, way, actor), {
      ...TRIES,
      shouldRetry: ({ error }) => isBusy(error),
    });
    if (some.length === 0) break;
    for (const { done, refused } of some) {
      result.undone += done.length;
      result.made.push(...madeBy(done));
      result.refused.push(...refused.map(refusalMessage));
    }
  }
  result.left = await steps.endStep(stepId, way);
  log.info({ event: `step ${way}`, step: stepId, samples: result.undone, left: result.left });
  return result;
}

/** Takes back what was done to the next samples of a step, or does it again. */
const movePortion = (stepId: number, way: steps.StepWay, actor: Actor) =>
  transaction(async (client) => {
    const items = await steps.takeStepItems(client, stepId, way, BULK_AT_ONCE);
    const isUndo = way === 'undo';
    // The step was asked for as a whole: each of its revisions may be undone by whoever may take it back.
    const orders = [
      {
        order: isUndo ? ({ do: 'undo', evenForeign: true } as const) : ({ do: 'redo' } as const),
        items: items.filter(({ made }) => made !== null),
      },
      { order: { do: 'restore' }, items: items.filter(({ binned }) => binned === isUndo) },
      { order: { do: 'bin' }, items: items.filter(({ binned }) => binned === !isUndo) },
    ] as const;
    const results: Pick<ChangeResult, 'done' | 'refused'>[] =
      items.length > 0 ? [{ done: [], refused: [] }] : [];
    for (const { order, items: some } of orders) {
      if (some.length === 0) continue;
      // What was made is there again when it is redone: it has another revision until then.
      const targets = some.map(({ sampleId, made }) => ({ sampleId, base: isUndo ? made : null }));
      const sampleIds = targets.map(({ sampleId }) => sampleId);
      results.push(await changeInside(client, { do: 'order', order, targets }, sampleIds, actor));
    }
    return results;
  });
