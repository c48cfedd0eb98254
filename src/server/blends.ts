import { heardOf } from '@/library/blend/hearing';
import { exportName } from '@/words/exports';
import { blend, type Blend, blendOrder, type BlendRow, emptyBlend, MOST_LANES } from '@/contract/blend';
import { mixRequest } from '@/contract/mix';
import { ordered } from '@/library/blend/orders';
import { laneFactsOf, type LaneFacts } from '@/library/blend/parts';
import { scoreOf, type Score } from '@/library/blend/score';
import { tempoMapOf } from '@/library/blend/tempoMap';
import { beginStep } from '@/store/bulkSteps';
import * as store from '@/store/blends';
import { readCurator } from '@/store/curators';
import { database } from '@/store/database';
import { readEntryOf } from '@/store/entries';
import { makeTask } from '@/store/longTasks';
import type { Actor } from './change';
import { log } from './log';
import { once } from './once';
import { packNow } from './packs';
import { documentCases } from './documents';
import { UserError } from './userError';

const cases = documentCases({
  ...{ kind: 'blend', store: store.blendStore, state: blend, order: blendOrder },
  ...{ ordered, empty: emptyBlend },
});
export const { now: blendNow, make: makeBlend, change: changeBlend, bin: binBlend } = cases;

/** All blends, those changed last first. */
export const blendsNow = (): Promise<BlendRow[]> => store.listBlends();

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
  if (state.lanes.length === 0) throw new UserError('This blend is empty.', 422);
  return { name: `${state.name} tempo map.mid`, bytes: tempoMapOf(state, await scoreNow(state)) };
}

/** The most that is mixed at once, frames of all lanes together. */
const MOST_FRAMES = 200_000_000;

/** Puts the making of what is exported of a blend into the queue, as one step. Throws UserError where nothing would sound. */
export async function makeMixes(blendId: string, input: unknown, actor: Actor): Promise<{ taskId: number }> {
  const request = mixRequest.parse(input);
  const { outcomes, sampleRate } = request;
  if (request.packId) await packNow(request.packId);
  const { state } = await blendNow(blendId);
  const score = await scoreNow(state);
  const heard = heardOf(score);
  if (heard.length === 0) throw new UserError('This blend has no sound to export yet.', 422);
  const frames =
    heard.reduce((sum, { parts }) => sum + parts.reduce((most, { plan }) => most + plan.seconds, 0), 0) *
    sampleRate;
  if (frames > MOST_FRAMES || outcomes.length > MOST_LANES + 2)
    throw new UserError('This blend is too long to render; use fewer bars of its longest lanes.', 422);
  for (const one of outcomes)
    if (one.what === 'lane') {
      const lane = score.lanes.find(({ lane: { laneId } }) => laneId === one.laneId);
      if (!lane) throw new UserError(`The lane “${one.name}” has been removed meanwhile.`, 409);
      if (lane.fault) throw new UserError(`“${one.name}”: ${lane.fault}`, 422);
      if (!heard.includes(lane))
        throw new UserError(
          `“${one.name}” is muted, or others are solo. Exported lanes add up to the mix.`,
          422,
        );
    }
  const { curatorId } = await readCurator(database(), actor);
  const items = outcomes.map((one, i) => ({
    ...{
      name: exportName(one, state.name),
      folder: '',
      path: String(i),
      byteLength: 1000,
      modifiedMs: null,
    },
  }));
  const taskId = await once(async (client) => {
    const words = `exported from the blend “${state.name}”`;
    const stepId = await beginStep(client, {
      ...{ words, action: { do: 'restore' }, curatorId, screen: 'blend' },
    });
    const payload = { ...request, blendId, state, curatorId, stepId };
    return makeTask(
      client,
      'mix',
      `rendering ${outcomes.length} of “${state.name}”`,
      payload,
      items,
      outcomes.length * score.seconds,
    );
  });
  log.info({ event: 'mixes asked for', task: taskId, blend: blendId, count: outcomes.length });
  return { taskId };
}
