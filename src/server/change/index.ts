import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { change, isLight, type Deed, type Outcome } from '@/library/change/change';
import { kindOfRefusal, RefusedChange, type Refusal } from '@/library/change/refusal';
import { refusalWords } from '@/words/refusals';
import type { SampleEntry } from '@/contract/entry';
import type { Order, Target } from '@/contract/orders';
import { announceSamples } from '@/store/notifications';
import { insertProofs } from '@/store/proofs';
import { writeReadings } from '@/store/readings';
import { insertRevisions } from '@/store/revisions';
import { writeMerged } from '@/store/samples';
import { writeLightRows, writeListRows } from '@/store/settled';
import { lockSamples, readSlice } from '@/store/slices';
import { writeSets } from '@/store/stemSets';
import { readEntry } from '../entry';
import { log } from '../log';
import { once } from '../once';
import { UserError } from '../userError';

/** Who changes: a curator's number as their browser says it (an unknown one is the one who was here first), or nobody's hand. */
export type Hand = string | null;
/** Whoever was here first: for hands that do not say whose they are. */
export const ANYBODY = '00000000-0000-0000-0000-000000000000';

/**
 * Does a deed to samples inside a transaction: all that it touches is locked, read, changed in `library/change`, and
 * written, whatever the size of the sets that follow. Throws RefusedChange where the whole deed cannot be done.
 */
export async function changeInside(
  client: pg.PoolClient,
  deed: Deed,
  sampleIds: readonly string[],
  hand: Hand,
): Promise<Outcome> {
  const locked = await lockSamples(client, sampleIds);
  const { slice, who } = await readSlice(client, locked, {
    revision: deed.do === 'order' && deed.order.do === 'return' ? deed.order.sequence : null,
    curatorId: hand,
    isLight: isLight(deed),
  });
  const outcome = change(slice, deed, { who, now: new Date().toISOString(), newId: randomUUID });
  const { writes, rows, lightRows } = outcome;
  const by = who?.curatorId ?? null;
  await writeReadings(client, writes.superseded, writes.readings);
  await insertRevisions(client, writes.revisions, writes.changeId, by);
  await insertProofs(client, writes.proofs, by);
  await writeMerged(client, writes.merged);
  await writeSets(client, writes.sets);
  await writeListRows(client, rows);
  await writeLightRows(client, lightRows);
  if (!(deed.do === 'renew' && deed.quietly))
    await announceSamples(client, locked, deed.do === 'measured' ? 'measured' : 'changed');
  return outcome;
}

/** Does an order to samples, each by itself; those that it cannot be done to are named with the reason. */
export function changeSamples(
  order: Order,
  targets: readonly Target[],
  hand: Hand,
): Promise<Pick<Outcome, 'done' | 'refused'>> {
  const sampleIds = targets.map(({ sampleId }) => sampleId);
  return once(async (client) => {
    const { done, refused } = await changeInside(client, { do: 'order', order, targets }, sampleIds, hand);
    return { done, refused };
  });
}

/** Does an order to one sample and shows what became of it. Throws UserError with a sentence when it cannot be done. */
export async function changeSample(order: Order, target: Target, hand: Hand): Promise<SampleEntry> {
  const deed = { do: 'order', order, targets: [target] } as const;
  const { done } = await once(async (client) => {
    const { done, refused } = await changeInside(client, deed, [target.sampleId], hand);
    // What is refused was not done: nothing is kept of it.
    if (refused.length) throw asUserError(refused[0].refusal);
    return { done };
  });
  if (done.length) log.info({ event: 'changed', sample: target.sampleId, do: order.do });
  return readEntry(target.sampleId);
}

/** Runs a deed in a transaction of its own; returns what `prepare` says. Throws UserError with a sentence when it cannot be done. */
export async function doDeed<R = null>(
  prepare: (client: pg.PoolClient) => Promise<{ deed: Deed; sampleIds: readonly string[]; result?: R }>,
  hand: Hand,
): Promise<R> {
  try {
    return await once(async (client) => {
      const { deed, sampleIds, result } = await prepare(client);
      await changeInside(client, deed, sampleIds, hand);
      return result as R;
    });
  } catch (error) {
    throw error instanceof RefusedChange ? asUserError(error.refusal) : error;
  }
}

/** What was refused, as the page is told. */
export const toldRefusal = ({ sampleId, name, refusal }: Outcome['refused'][number]) => ({
  ...{ sampleId, name },
  why: refusalWords(refusal),
});

function asUserError(refusal: Refusal): UserError {
  const status = { gone: 404, stale: 409, foreign: 409, unfit: 422 } as const;
  const kind = kindOfRefusal(refusal);
  return new UserError(refusalWords(refusal), status[kind], kind === 'foreign' ? 'foreign' : null);
}
