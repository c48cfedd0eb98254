import type { MixExport } from '@/contract/mix';
import { heardOf, hearingOf } from '@/library/blend/hearing';
import { extentOf } from '@/library/blend/extent';
import { clicked, mixed, type Fitted } from '@/library/blend/mixdown';
import type { LaneScore } from '@/library/blend/parts';
import type { Score } from '@/library/blend/score';
import { loudestOf, quieterBy } from '@/core/recipes/level';
import { RecipeError } from '@/core/recipes/recipeError';
import { barTime } from '@/core/rhythm/grid';
import type { TakenTask } from '@/store/tasks';
import type { FitLane } from './fitLane';

/** What was fitted is kept from one outcome to the next, as far as it is not larger, bytes. */
const MOST_KEPT = 1_500_000_000;

/** What was fitted for a task, by what it was fitted from, and how much quieter all of it is made, dB. */
let kept: { task: string; fits: Map<string, Float32Array[][]>; quieterDb: number | null } | null = null;

/** The sound of one outcome. */
export interface ExportSound {
  channels: [Float32Array, Float32Array];
  /** Where it begins, seconds from bar 1. */
  from: number;
  /** All of it turns: it loops as it is. */
  turns: boolean;
  quieterDb: number;
}

/**
 * Whether a whole blend turns: something in it loops, nothing stands before its first bar, and nothing rings on behind its last.
 */
const turnsOf = ({ lanes, begins, grid, seconds }: Score): boolean =>
  begins > -1e-6 &&
  grid.movingBeats === null &&
  lanes.some(({ lane, parts }) => lane.times === null && parts.length > 0) &&
  lanes.every(({ parts }) => parts.every(({ until }) => until <= seconds + 1e-6));

/**
 * The sound of one of a task's outcomes: the lanes that it needs are decoded and fitted, and mixed as the page does. Mix and lanes
 * are made quieter alike, by what the loudest of them takes, so that the lanes add up to the mix. Throws RecipeError where nothing
 * sounds.
 */
export async function exportSound(
  task: TakenTask<'mix'>,
  one: MixExport,
  score: Score,
  onProgress: (share: number) => void,
  fitLane: FitLane,
): Promise<ExportSound> {
  const { outcomes, format, sampleRate: rate, blendId } = task.payload;
  const extent = extentOf(score);
  const turns = turnsOf(score);
  const span = { from: extent.from, to: turns ? score.seconds : extent.to, rate };
  if (one.what === 'click') {
    const from = one.countInBars > 0 ? barTime(score.grid, 1 - one.countInBars) : 0;
    span.from = Math.min(from, extent.from);
    return {
      channels: clicked(score.grid, span),
      from: span.from,
      turns: turns && span.from === 0,
      quieterDb: 0,
    };
  }
  const name = `${task.taskId} ${blendId}`;
  if (kept?.task !== name) kept = { task: name, fits: new Map(), quieterDb: null };
  const lanesOf = (outcome: MixExport): LaneScore[] => {
    if (outcome.what === 'mix') return heardOf(score);
    if (outcome.what === 'click') return [];
    // A lane that is muted, or not among those that are heard solo, is no part of what was heard.
    return heardOf(score).filter(({ lane }) => lane.laneId === outcome.laneId);
  };
  if (lanesOf(one).length === 0)
    throw new RecipeError('The blend has no sound any more; it was changed meanwhile.');
  const holdsAll = format === 'wav 32 float';
  if (holdsAll) kept.quieterDb = 0;
  // How loud all are is known when all were made once.
  const needed = kept.quieterDb === null ? outcomes.flatMap(lanesOf) : lanesOf(one);
  const fits = await fitAll([...new Set(needed)], rate, kept.fits, onProgress, fitLane);
  const soundOf = (outcome: MixExport) => mixed(partsOf(outcome, lanesOf(outcome), score, fits), span);
  kept.quieterDb ??= Math.max(
    ...outcomes
      .filter((outcome) => lanesOf(outcome).length > 0)
      .map((outcome) => quieterBy(loudestOf(soundOf(outcome)))),
  );
  const channels = soundOf(one);
  const gain = 10 ** (-kept.quieterDb / 20);
  if (gain < 1) for (const channel of channels) for (let n = 0; n < channel.length; n++) channel[n] *= gain;
  if (bytesOf(kept.fits) > MOST_KEPT) kept.fits.clear();
  return { channels, from: span.from, turns, quieterDb: kept.quieterDb };
}

/** Each part with how it is heard: in the mix as on the screen; by itself at its level and on its side. */
function partsOf(
  outcome: MixExport,
  lanes: readonly LaneScore[],
  score: Score,
  fits: ReadonlyMap<LaneScore, Fitted>,
) {
  const all = score.lanes.map(({ lane }) => lane);
  return lanes.flatMap((one) => {
    const hearing =
      outcome.what === 'mix' ? hearingOf(one.lane, all) : { ...hearingOf(one.lane, []), muted: false };
    return [...fits.get(one)!].map(([part, channels]) => ({ part, channels, hearing }));
  });
}

/** Fits lanes that are not fitted yet, as many beside each other as `fitLane` does. */
async function fitAll(
  lanes: readonly LaneScore[],
  rate: number,
  done: Map<string, Float32Array[][]>,
  onProgress: (share: number) => void,
  fitLane: FitLane,
): Promise<Map<LaneScore, Fitted>> {
  const shares = lanes.map(() => 0);
  const begun = new Map<string, Promise<Float32Array[][]>>();
  const fitOne = async ({ lane: { sampleId }, parts }: LaneScore, i: number) => {
    const name = JSON.stringify([sampleId, parts.map(({ plan }) => plan)]);
    const known = done.get(name);
    if (known) return known;
    const timeStretch =
      begun.get(name) ??
      fitLane({ sampleId, parts }, rate, (share) => {
        shares[i] = share;
        onProgress(shares.reduce((sum, one) => sum + one) / shares.length);
      });
    begun.set(name, timeStretch);
    const fits = await timeStretch;
    done.set(name, fits);
    return fits;
  };
  const all = await Promise.all(lanes.map(fitOne));
  // The same parts of another score are other objects.
  return new Map(lanes.map((one, i) => [one, new Map(one.parts.map((part, k) => [part, all[i][k]]))]));
}

const bytesOf = (fits: ReadonlyMap<string, Float32Array[][]>): number =>
  [...new Set([...fits.values()].flat())].reduce(
    (sum, channels) => sum + channels.length * channels[0].byteLength,
    0,
  );
