import type { SampleKind } from '../measurement/schema';
import { loopBounds, type LoopValue } from '../rhythm/loop';
import { barTime, beatPosition, type Grid } from '../rhythm/grid';
import type { Proposal, Target } from './proposal';
import { anchored, cut, gridToTempo, steadyMap, timeMap, toResult, toSource, type TimeMap } from './timeMap';
import type { TimeStretch } from './voice';

/** What of a sample is settled, and what is known of it, as far as it says how it sounds when it is fitted. */
export interface Settled {
  kind: SampleKind | null;
  durationSeconds: number;
  grid: Grid | null;
  loop: LoopValue | null;
  /** Hits that keep their place and their sound, seconds. */
  hits: readonly number[];
  isVoice: boolean;
  /** How long its hits usually take to come up, ms; not at all where nothing is said. */
  attackMs?: number;
}

/** How a sample sounds at a target: what is read of it, and where everything stands in what is made. Times are seconds. */
export interface Plan {
  /** Read from here … */
  from: number;
  to: number;
  /** From seconds after `from` to seconds of the result, which begins at 0. */
  map: TimeMap;
  /** How long the result is. */
  seconds: number;
  /** With cents, as a fraction. */
  semitones: number;
  isTape: boolean;
  holdFormants: boolean;
  /** The result loops, turning after `seconds`. */
  loops: boolean;
  /** Where bar 1 begins in the result, or of what loops its first bar. */
  one: number;
  /** What stands before the one and is heard before its bar, seconds: no more than a bar. */
  pickup: number;
  /** Tempo and time signature of the result, its one at `one`; null where the sample has none. */
  grid: Grid | null;
  /** Hits of the sample, seconds after `from`. */
  hits: readonly number[];
}

/** A hit so near before the beginning of what loops is the one on its first beat, seconds: hits are not known better. */
const TURN = 0.004;

/** What a stretch of a sample is bent by. */
export interface Bending {
  /** From seconds of the sample to seconds of the result; where it begins does not matter. */
  map: TimeMap;
  /** With cents, as a fraction. */
  semitones: number;
  isTape: boolean;
  holdFormants: boolean;
}

/** A stretch of a sample (seconds), bent; it has no bars of its own yet. */
export function planAlong(
  { hits }: Pick<Settled, 'hits'>,
  { from, to, loops }: { from: number; to: number; loops: boolean },
  { map: whole, ...pitch }: Bending,
): Plan {
  const map = anchored(cut(whole, from, to), 0, 0);
  return {
    ...{ from, to, map, loops, ...pitch },
    seconds: map.result[map.result.length - 1],
    ...{ one: 0, pickup: 0, grid: null },
    hits: hits
      .filter((time) => time >= from - TURN && time < to - (loops ? TURN : 0))
      .map((time) => Math.max(0, time - from)),
  };
}

/** What a proposal for a target comes to: a loop's whole bars loop, everything else is played through. */
export function planOf(sample: Settled, proposal: Proposal, { isTape }: Pick<Target, 'isTape'>): Plan {
  const { grid, durationSeconds, kind } = sample;
  const bounds = grid && kind === 'loop' ? loopBounds(grid, sample.loop, durationSeconds) : null;
  const { start: from, end: to } = bounds ?? { start: 0, end: durationSeconds };
  const { tempoBpm, ratio, level } = proposal;
  const bent = planAlong(
    sample,
    { from, to, loops: bounds !== null },
    {
      // Brought to a tempo, a moving grid plays steadily; otherwise it keeps its movement.
      map: grid && tempoBpm !== null ? gridToTempo(grid, tempoBpm, level) : steadyMap(ratio),
      semitones: proposal.semitones + proposal.cents / 100,
      ...{ isTape, holdFormants: sample.isVoice && proposal.semitones !== 0 && !isTape },
    },
  );
  const { map } = bent;
  const first = grid ? (bounds ? barTime(grid, sample.loop?.bar ?? 1) : grid.one) : 0;
  const one = grid ? toResult(map, first - from) : 0;
  const movingBeats = tempoBpm === null ? (grid?.movingBeats ?? null) : null;
  const told: Grid | null =
    grid && kind !== 'oneshot'
      ? {
          ...{ tempoBpm: tempoBpm ?? grid.tempoBpm / ratio, one, meter: grid.meter },
          movingBeats: movingBeats?.map((time) => toResult(map, time - from)) ?? null,
        }
      : null;
  return {
    ...bent,
    ...{ one, grid: told },
    pickup: bounds || !told ? 0 : Math.max(0, Math.min(one, barTime(told, 2) - one)),
  };
}

/** Which second of the sample is heard so many seconds into the result. */
export function heardAt({ from, map, seconds, loops }: Plan, time: number): number {
  const within = loops ? ((time % seconds) + seconds) % seconds : time;
  return from + toSource(map, within);
}

/** How many felt beats of the result a plan is long. */
export function beatsOf({ grid, seconds }: Plan): number | null {
  return grid ? beatPosition({ ...grid, one: 0 }, seconds) : null;
}

/** The same, begun later: the result is heard from `seconds` on, and that is its one. What loops is not cut. */
export function begunAt(plan: Plan, seconds: number): Plan {
  if (plan.loops || seconds <= 0) return plan;
  const at = toSource(plan.map, Math.min(seconds, plan.seconds - 0.01));
  const map = anchored(cut(plan.map, at, plan.to - plan.from), 0, 0);
  return {
    ...plan,
    ...{ from: plan.from + at, map, seconds: map.result[map.result.length - 1], one: 0, pickup: 0 },
    grid: plan.grid && laterBy(plan.grid, -seconds),
    hits: plan.hits.filter((time) => time >= at).map((time) => time - at),
  };
}

/** A grid, all of it later by so many seconds. */
export const laterBy = (grid: Grid, seconds: number): Grid => ({
  ...grid,
  one: grid.one + seconds,
  movingBeats: grid.movingBeats?.map((beat) => beat + seconds) ?? null,
});

/**
 * What a plan comes to in frames: which of a sample's are read, and how they are fitted. Rounded here, once. `available`: how many
 * frames the sample has, which may be a few less than its length says.
 */
export function timeStretchOf(
  plan: Plan,
  rate: number,
  available = Infinity,
): { first: number; size: number; timeStretch: TimeStretch } {
  const first = Math.round(plan.from * rate);
  const size = Math.max(1, Math.min(available - first, Math.round((plan.to - plan.from) * rate)));
  const length = Math.max(1, Math.round(plan.seconds * rate));
  const last = plan.map.source.length - 1;
  const map = timeMap(
    plan.map.source.map((time, i) => (i === last ? size : time * rate)),
    plan.map.result.map((time, i) => (i === last ? length : time * rate)),
  );
  return {
    ...{ first, size },
    timeStretch: {
      ...{ rate, length, map, semitones: plan.semitones, isLoop: plan.loops },
      attacks: plan.hits.map((time) => time * rate),
      holdFormants: plan.holdFormants,
      tape: plan.isTape,
    },
  };
}
