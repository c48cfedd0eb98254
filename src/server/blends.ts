import { blend, emptyBlend, MOST_LANES, type Blend } from '@/core/library/blend';
import { blendChange, newBlend, type BlendRow, type KeptBlend } from '@/core/blend/keeping';
import { mixRequest, outcomeName } from '@/core/library/mix';
import { BlendRefusal, ordered } from '@/core/blend/orders';
import { laneFactsOf, type LaneFacts } from '@/core/blend/parts';
import { scoreOf, type Score } from '@/core/blend/score';
import { tempoMapOf } from '@/core/blend/tempoMap';
import { beginStep } from '@/store/bulkSteps';
import * as store from '@/store/blends';
import { readCurator } from '@/store/curators';
import { database, transaction } from '@/store/database';
import { readEntryOf } from '@/store/entries';
import { makeTask } from '@/store/longTasks';
import { announceBlend } from '@/store/notifications';
import type { Hand } from './change';
import { log } from './log';
import { UserError } from './userError';

const gone = () => new UserError('There is no such blend, or it was thrown away.', 404);

/** All blends, those changed last first. */
export const blendsNow = (): Promise<BlendRow[]> => store.listBlends();

/** One blend. Throws UserError where there is none. */
export async function blendNow(blendId: string): Promise<KeptBlend> {
  const kept = await store.readBlend(database(), blendId);
  if (!kept) throw gone();
  return kept;
}

/** A new blend, or a copy of one. Throws UserError where there is nothing to copy. */
export async function makeBlend(input: unknown, hand: Hand): Promise<KeptBlend> {
  const { name, copyOf } = newBlend.parse(input);
  const of = copyOf ? (await blendNow(copyOf)).state : null;
  const state = of
    ? { ...of, name: name ?? `${of.name.slice(0, 110)}, a copy` }
    : emptyBlend(name ?? 'A blend without a name');
  const { curatorId } = await readCurator(database(), hand);
  const blendId = await transaction(async (client) => {
    const made = await store.insertBlend(client, state, of ? `copied from “${of.name}”` : 'made', curatorId);
    await announceBlend(client, made);
    return made;
  });
  log.info({ event: 'blend made', blend: blendId });
  return blendNow(blendId);
}

/**
 * Changes a blend: an order is done to what it is now, whoever changed it meanwhile; or a step is taken back or done again. Throws
 * UserError with a sentence where that cannot be.
 */
export async function changeBlend(blendId: string, input: unknown, hand: Hand): Promise<KeptBlend> {
  const change = blendChange.parse(input);
  await transaction(async (client) => {
    const kept = await store.readBlend(client, blendId, true);
    if (!kept) throw gone();
    if (change.do === 'order') {
      const { curatorId } = await readCurator(client, hand);
      const state = afterOrder(kept.state, change.order);
      await store.addState(client, kept, state, change.words, curatorId);
    } else {
      const [there, by] = change.do === 'undo' ? [kept.undo, -1] : [kept.redo, 1];
      if (there === null)
        throw new UserError(
          change.do === 'undo' ? 'There is nothing to take back.' : 'There is nothing to do again.',
          409,
        );
      await store.showState(client, blendId, kept.sequence + by);
    }
    await announceBlend(client, blendId);
  });
  return blendNow(blendId);
}

function afterOrder(state: Blend, order: Parameters<typeof ordered>[1]): Blend {
  try {
    return blend.parse(ordered(state, order));
  } catch (error) {
    if (error instanceof BlendRefusal) throw new UserError(error.message, 409);
    throw error;
  }
}

/** Throws a blend away, or takes it back. Throws UserError where there is none. */
export async function binBlend(blendId: string, isBinned: boolean): Promise<void> {
  if (!(await store.binBlend(blendId, isBinned))) throw gone();
  await announceBlend(database(), blendId);
}

/** What is known of the samples of a blend's lanes. */
async function factsOfLanes({ lanes }: Blend): Promise<Map<string, LaneFacts | null>> {
  const ids = [...new Set(lanes.map(({ sampleId }) => sampleId))];
  const entries = await Promise.all(ids.map((sampleId) => readEntryOf(database(), sampleId)));
  return new Map(ids.map((sampleId, i) => [sampleId, entries[i] && laneFactsOf(entries[i])]));
}

/** A blend on its ruler, with the samples as they are settled now. */
export const scoreNow = async (state: Blend): Promise<Score> => scoreOf(state, await factsOfLanes(state));

/** Tempo, bars and click of a blend as a Standard MIDI File. Throws UserError where it is empty. */
export async function tempoMapFile(blendId: string): Promise<{ name: string; bytes: Uint8Array }> {
  const { state } = await blendNow(blendId);
  if (state.lanes.length === 0) throw new UserError('Nothing is in this blend yet.', 422);
  return { name: `${state.name} tempo map.mid`, bytes: tempoMapOf(state, await scoreNow(state)) };
}

/** The most that is mixed at once, frames of all lanes together. */
const MOST_FRAMES = 200_000_000;

/** Puts the making of what comes out of a blend into the queue, as one step. Throws UserError where nothing would sound. */
export async function makeMixes(blendId: string, input: unknown, hand: Hand): Promise<{ taskId: number }> {
  const request = mixRequest.parse(input);
  const { outcomes, sampleRate } = request;
  const { state } = await blendNow(blendId);
  const score = await scoreNow(state);
  const heard = score.lanes.filter(({ parts }) => parts.length > 0);
  if (heard.length === 0)
    throw new UserError('Nothing in this blend sounds yet; there is nothing to write.', 422);
  const frames =
    heard.reduce((sum, { parts }) => sum + parts.reduce((most, { plan }) => most + plan.seconds, 0), 0) *
    sampleRate;
  if (frames > MOST_FRAMES || outcomes.length > MOST_LANES + 2)
    throw new UserError(
      'This blend is too long to be made at once; use fewer bars of its longest lanes.',
      422,
    );
  for (const one of outcomes)
    if (one.what === 'lane') {
      const lane = score.lanes.find(({ lane: { laneId } }) => laneId === one.laneId);
      if (!lane) throw new UserError(`The lane “${one.name}” was taken out in the meantime.`, 409);
      if (lane.fault) throw new UserError(`“${one.name}”: ${lane.fault}`, 422);
    }
  const { curatorId } = await readCurator(database(), hand);
  const stepId = await beginStep(`made of the blend “${state.name}”`, { do: 'restore' }, curatorId);
  const items = outcomes.map((one, i) => ({
    ...{
      name: outcomeName(one, state.name),
      folder: '',
      path: String(i),
      byteLength: 1000,
      modifiedMs: null,
    },
  }));
  const payload = { ...request, blendId, state, curatorId, stepId };
  const taskId = await makeTask(
    database(),
    'mix',
    `making ${outcomes.length} of “${state.name}”`,
    payload,
    items,
  );
  log.info({ event: 'mixes asked for', task: taskId, blend: blendId, count: outcomes.length });
  return { taskId };
}
