import type { Done } from '@/core/change/change';
import { wordsOf } from '@/core/change/words';
import { NOTHING_HANGS, type Hanging } from '@/core/library/hanging';
import {
  BULK_AT_ONCE,
  bulkRequest,
  type BulkAction,
  type BulkResult,
  type BulkSteps,
  type BulkUndone,
} from '@/core/library/orders';
import * as steps from '@/store/bulkSteps';
import { readCurator } from '@/store/curators';
import { database, transaction } from '@/store/database';
import { announceSamples } from '@/store/notifications';
import { blendStore } from '@/store/blends';
import { packStore } from '@/store/packs';
import { countChildren } from '@/store/recipes';
import { enqueueMeasuring } from '@/store/tasks';
import { log } from '../log';
import { UserError } from '../userError';
import { changeInside, type Hand } from '.';

/**
 * Does one thing to many samples: those that it cannot be done to are named with the reason, those that somebody has
 * changed since they were listed among them. The step stands before anything of it is done, and keeps what was done
 * in the same transaction: it can be taken back whatever comes.
 */
export async function doInBulk(input: unknown, hand: Hand): Promise<BulkResult> {
  const { order, targets, stepId } = bulkRequest.parse(input);
  const words = wordsOfAction(order);
  const { curatorId } = await readCurator(database(), hand);
  const step = stepId ?? (await steps.beginStep(words, order, curatorId));
  const result = await transaction(async (client) => {
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
    return outcome;
  });
  const { done, refused } = result;
  log.info({ event: 'bulk', words, step, done: done.length, refused: refused.length });
  return {
    stepId: step,
    words,
    done: done.length,
    hanging: order.do === 'bin' ? await hangingOn(done.map(({ sampleId }) => sampleId)) : NOTHING_HANGS,
    made: madeBy(done),
    refused: refused.map(({ sampleId, name, why }) => ({ sampleId, name, why })),
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

/**
 * Takes a step back where its samples were not changed since. Throws UserError for one that somebody else made,
 * unless that is meant.
 */
export async function undoBulk(stepId: number, hand: Hand, evenForeign = false): Promise<BulkUndone> {
  const step = await steps.readStep(stepId);
  if (!step) throw new UserError('This step was taken back already.', 409);
  const me = await readCurator(database(), hand);
  if (step.curatorId !== null && step.curatorId !== me.curatorId && !evenForeign) {
    const maker = await readCurator(database(), step.curatorId);
    throw new UserError(`The step “${step.words}” is ${maker.name}’s.`, 409, 'foreign');
  }
  if (!(await steps.takeStep(stepId))) throw new UserError('This step was taken back already.', 409);
  const result: BulkUndone = { words: step.words, undone: 0, made: [], refused: [] };
  // The step was asked for as a whole: each of its revisions may be taken back by whoever may take it back.
  const orders = [
    { order: { do: 'undo', evenForeign: true }, items: step.items.filter(({ made }) => made !== null) },
    { order: { do: 'restore' }, items: step.items.filter(({ binned }) => binned === true) },
    { order: { do: 'bin' }, items: step.items.filter(({ binned }) => binned === false) },
  ] as const;
  for (const { order, items } of orders)
    for (let at = 0; at < items.length; at += BULK_AT_ONCE) {
      const targets = items
        .slice(at, at + BULK_AT_ONCE)
        .map(({ sampleId, made }) => ({ sampleId, base: made }));
      const { done, refused } = await transaction((client) =>
        changeInside(
          client,
          { do: 'order', order, targets },
          targets.map(({ sampleId }) => sampleId),
          hand,
        ),
      );
      result.undone += done.length;
      result.made.push(...madeBy(done));
      result.refused.push(...refused.map(({ sampleId, name, why }) => ({ sampleId, name, why })));
    }
  log.info({ event: 'step taken back', step: stepId, undone: result.undone, refused: result.refused.length });
  return result;
}
