import { openTagsOf } from '@/library/samples/openTags';
import { exportName, exportWords } from '@/words/exports';
import type { Blend } from '@/contract/blend';
import { type MixExport } from '@/contract/mix';
import { fittableRow } from '@/library/samples/aims';
import { heardOf } from '@/library/blend/hearing';
import { hitsOf, type LaneScore } from '@/library/blend/parts';
import type { Score } from '@/library/blend/score';
import { differencesOf, type Planned } from '@/core/recipes/differences';
import { loudestOf } from '@/core/recipes/level';
import { laterBy } from '@/core/timeStretch/plan';
import { movedKey, type Key } from '@/core/harmony/keyNames';
import type { SampleEntry } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import { beatsWithin } from '@/core/rhythm/grid';
import { writeMix } from '@/store/blends';
import { database } from '@/store/database';
import { readEntryOf } from '@/store/entries';
import { madeOfTask } from '@/store/longTasks';
import type { TakenTask } from '@/store/tasks';
import { scoreNow } from '../blends';
import { joinMade } from '../stemSets';
import { laneFitted, type FitLane } from './fitLane';
import { storeOriginal, type StoredOriginal } from '@/store/originalBytes';
import { inOnePart } from '../inOnePart';
import { keepMade, measuredOriginal, written, type KeptMade } from './made';
import { exportSound, type ExportSound } from './mixAudio';

/** Shares of the time that parts usually take. */
const SHARES = { sound: 0.6, writing: 0.15 } as const;

/** An outcome of a blend that is written and not measured yet: all that has to be kept with it. */
export interface WrittenMix {
  original: StoredOriginal;
  planned: Planned;
  kept: Omit<KeptMade, 'original' | 'found' | 'writeHow'>;
}

/**
 * Makes one outcome of a blend: its sound and its file, which is measured; then it is there at once, with what it came of. Nothing is
 * written when the task is no longer theirs. `fitLane`: in which thread lanes are fitted. Throws RecipeError and UndecodableError with a sentence.
 */
export async function mix(
  task: TakenTask<'mix'>,
  position: number,
  index: number,
  onProgress: (share: number) => void,
  fitLane: FitLane = laneFitted,
): Promise<void> {
  await keepMix(task, position, index, await writeMixed(task, index, onProgress, fitLane), onProgress);
}

/** Makes the sound of one outcome and stores its file: lanes that were fitted serve the next, in the same thread. */
export async function writeMixed(
  task: TakenTask<'mix'>,
  index: number,
  onProgress: (share: number) => void,
  fitLane: FitLane = laneFitted,
): Promise<WrittenMix> {
  const { state, outcomes, format, sampleRate: rate } = task.payload;
  const one = outcomes[index];
  const score = await scoreNow(state);
  const sound = await exportSound(task, one, score, (share) => onProgress(SHARES.sound * share), fitLane);
  const { channels, from, turns } = sound;
  const grid = laterBy(score.grid, -from);
  const lane = one.what === 'lane' ? score.lanes.find((other) => other.lane.laneId === one.laneId)! : null;
  const sources = await entriesOf(lane ? [lane] : score.lanes);
  const key = one.what === 'click' ? null : lane ? keyOf(lane, sources[0]) : state.key;
  const words = exportWords(one, state.name);
  const planned = plannedOf(one, score, sound, { rate, key, lane });
  const tags = openTagsOf({
    ...{ grid, key, kind: kindOf(one, turns), isUnpitched: key === null, chord: null },
    ...{ tags: [], note: words },
  });
  const bytes = await written({ channels, rate, format, grid, turns, tags });
  return {
    original: await storeOriginal(inOnePart(bytes), Infinity),
    planned,
    kept: {
      ...{ name: exportName(one, state.name), folder: '', words: `made: ${words}` },
      // What leads a blend is what it was made from most of all.
      parent: (lane ?? leadOf(score, state)).lane.sampleId,
      planned: { grid, key, tuningCents: null, detail: `from the blend “${state.name}”` },
      state: { ...settledOf(one, turns, sources, words, grid.tempoBpm), grid, key, tuningCents: null },
    },
  };
}

/** Measures what was written of an outcome, and keeps it with what it came of. */
export async function keepMix(
  task: TakenTask<'mix'>,
  position: number,
  index: number,
  { original, planned, kept }: WrittenMix,
  onProgress: (share: number) => void,
): Promise<void> {
  const { state, outcomes, blendId } = task.payload;
  const before = SHARES.sound + SHARES.writing;
  const { found } = await measuredOriginal(original, (share) => onProgress(before + (1 - before) * share));
  const differences = differencesOf(planned, found.measurement);
  await keepMade(task, position, {
    ...{ ...kept, original, found },
    writeHow: (client, sampleId) =>
      writeMix(client, sampleId, { blendId, outcome: outcomes[index], state, planned, differences }),
  });
}

/** The key that a lane sounds in: its own, moved as it is. */
function keyOf({ bend }: LaneScore, { summary }: SampleEntry): Key | null {
  const { key, isUnpitched } = fittableRow(summary);
  return key === null || isUnpitched ? null : movedKey(key, bend.semitones);
}

/** The lane that leads, where it sounds; else the first that does. */
function leadOf({ lanes }: Score, { lead }: Blend): LaneScore {
  const sounding = lanes.filter(({ parts }) => parts.length > 0);
  return sounding.find(({ lane }) => lane.laneId === lead) ?? sounding[0];
}

/** What a file is to be, as far as it can be measured. */
function plannedOf(
  one: MixExport,
  score: Score,
  { channels, from, quieterDb }: ExportSound,
  { rate, key, lane }: { rate: number; key: Key | null; lane: LaneScore | null },
): Planned {
  const grid = laterBy(score.grid, -from);
  const frames = channels[0].length;
  const hits =
    one.what === 'click'
      ? beatsWithin(grid, 0, frames / rate).map(({ time }) => time)
      : (lane ? [lane] : heardOf(score)).flatMap((each) => hitsOf(each)).map((time) => time - from);
  // Lanes that agree have hits at the same places.
  const places = new Set(hits.filter((hit) => hit >= 0).map((hit) => Math.round(hit * 1e6) / 1e6));
  return {
    ...{ frames, sampleRate: rate, grid, key, tuningCents: null, quieterDb, peak: loudestOf(channels) },
    // What rings on after the last bar is none.
    bars: score.bars,
    hits: [...places].sort((a, b) => a - b),
  };
}

/**
 * What is left to do when all outcomes of a blend are made: its lanes become a stem set, where that was asked for. Done
 * again, it changes nothing.
 */
export async function finishMix({ taskId, payload }: TakenTask<'mix'>): Promise<void> {
  const { asSet, outcomes, state, curatorId } = payload;
  if (!asSet) return;
  const made = await madeOfTask(database(), taskId);
  const sampleIds = made
    .filter(({ path }) => outcomes[Number(path)]?.what === 'lane')
    .map(({ sampleId }) => sampleId);
  await joinMade(sampleIds, state.name, curatorId);
}

async function entriesOf(lanes: readonly LaneScore[]): Promise<SampleEntry[]> {
  const ids = [...new Set(lanes.map(({ lane }) => lane.sampleId))];
  const entries = await Promise.all(ids.map((sampleId) => readEntryOf(database(), sampleId)));
  return entries.filter((entry) => entry !== null);
}

const kindOf = ({ what }: MixExport, turns: boolean) => (turns ? 'loop' : what === 'lane' ? 'stem' : 'song');

/** What is settled of an outcome beside tempo and key; what its samples may be used for holds for it as well. */
function settledOf(
  one: MixExport,
  turns: boolean,
  sources: readonly SampleEntry[],
  words: string,
  tempoBpm: number,
): Partial<SettledState> {
  const told = (texts: string[]) => [...new Set(texts.filter(Boolean))].join('; ').slice(0, 300);
  const from =
    one.what === 'click'
      ? ''
      : `, rendered from ${sources.map(({ summary }) => `“${summary.name}”`).join(', ')}`;
  const tags: Record<MixExport['what'], SettledState['tags']> = {
    mix: [{ facet: 'part', value: 'full mix' }],
    lane: sources[0]?.settled.tags ?? [],
    click: [],
  };
  return {
    kind: kindOf(one, turns),
    tags: tags[one.what],
    origin: told(sources.map(({ settled }) => settled.origin)),
    licence: told(sources.map(({ settled }) => settled.licence)),
    note: `${words}${from}, at ${Math.round(tempoBpm * 1000) / 1000} BPM.`.slice(0, 2000),
  };
}
