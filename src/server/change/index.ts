import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { change, isLight, type Command, type ChangeResult } from '@/library/change/change';
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
import { lockSamples, readSnapshot } from '@/store/snapshots';
import { writeSets } from '@/store/stemSets';
import { readEntry } from '../entry';
import { log } from '../log';
import { once } from '../once';
import { UserError } from '../userError';

/** Who changes: a curator's number as their browser says it (an unknown one is the one who was here first), or nobody's hand. */
export type Actor = string | null;
/** Whoever was here first: for hands that do not say whose they are. */
export const ANYBODY = '00000000-0000-0000-0000-000000000000';

/**
 * Does a command to samples inside a transaction: all that it touches is locked, read, changed in `library/change`, and
 * written, whatever the size of the sets that follow. Throws RefusedChange where the whole command cannot be done.
 */
export async function changeInside(
  client: pg.PoolClient,
  command: Command,
  sampleIds: readonly string[],
  actor: Actor,
): Promise<ChangeResult> {
  const locked = await lockSamples(client, sampleIds);
  const { snapshot, who } = await readSnapshot(client, locked, {
    revision: command.do === 'order' && command.order.do === 'return' ? command.order.sequence : null,
    curatorId: actor,
    isLight: isLight(command),
  });
  const result = change(snapshot, command, { who, now: new Date().toISOString(), newId: randomUUID });
  const { writes, rows, lightRows } = result;
  const by = who?.curatorId ?? null;
  await writeReadings(client, writes.superseded, writes.readings);
  await insertRevisions(client, writes.revisions, writes.changeId, by);
  await insertProofs(client, writes.proofs, by);
  await writeMerged(client, writes.merged);
  await writeSets(client, writes.sets);
  await writeListRows(client, rows);
  await writeLightRows(client, lightRows);
  if (!(command.do === 'renew' && command.quietly))
    await announceSamples(client, locked, command.do === 'measured' ? 'measured' : 'changed');
  return result;
}

/** Does an order to samples, each by itself; those that it cannot be done to are named with the reason. */
export function changeSamples(
  order: Order,
  targets: readonly Target[],
  actor: Actor,
): Promise<Pick<ChangeResult, 'done' | 'refused'>> {
  const sampleIds = targets.map(({ sampleId }) => sampleId);
  return once(async (client) => {
    const { done, refused } = await changeInside(client, { do: 'order', order, targets }, sampleIds, actor);
    return { done, refused };
  });
}

/** Does an order to one sample and shows what became of it. Throws UserError with a sentence when it cannot be done. */
export async function changeSample(order: Order, target: Target, actor: Actor): Promise<SampleEntry> {
  const command = { do: 'order', order, targets: [target] } as const;
  const { done } = await once(async (client) => {
    const { done, refused } = await changeInside(client, command, [target.sampleId], actor);
    // What is refused was not done: nothing is kept of it.
    if (refused.length) throw asUserError(refused[0].refusal);
    return { done };
  });
  if (done.length) log.info({ event: 'changed', sample: target.sampleId, do: order.do });
  return readEntry(target.sampleId);
}

/** Runs a command in a transaction of its own; returns what `prepare` says. Throws UserError with a sentence when it cannot be done. */
export async function doCommand<R = null>(
  prepare: (client: pg.PoolClient) => Promise<{ command: Command; sampleIds: readonly string[]; result?: R }>,
  actor: Actor,
): Promise<R> {
  try {
    return await once(async (client) => {
      const { command, sampleIds, result } = await prepare(client);
      await changeInside(client, command, sampleIds, actor);
      return result as R;
    });
  } catch (error) {
    throw error instanceof RefusedChange ? asUserError(error.refusal) : error;
  }
}

/** What was refused, as the page is told. */
export const refusalMessage = ({ sampleId, name, refusal }: ChangeResult['refused'][number]) => ({
  ...{ sampleId, name },
  why: refusalWords(refusal),
});

function asUserError(refusal: Refusal): UserError {
  const status = { gone: 404, stale: 409, foreign: 409, unfit: 422 } as const;
  const kind = kindOfRefusal(refusal);
  return new UserError(refusalWords(refusal), status[kind], kind === 'foreign' ? 'foreign' : null);
}
