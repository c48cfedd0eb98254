import { biweights, fitLine, medianSlope, residuals } from '../math/lines';
import { median } from '../math/median';
import { deviations } from './drift';
import { averageTempo, barTime, beatPosition, beatTime, feltBeatsPerBar, type Grid } from './grid';
import { measureLean } from './lean';
import type { Onset } from './onsets';

/** One bar of the tempo table. */
export interface BarTempo {
  bar: number;
  time: number;
  bpm: number;
}

/** The tempo of each whole bar that begins within the file, BPM in felt beats. */
export function barTempi(grid: Grid, durationSeconds: number): BarTempo[] {
  const size = feltBeatsPerBar(grid.meter);
  const bars: BarTempo[] = [];
  for (let bar = 1; ; bar++) {
    const time = barTime(grid, bar);
    const end = barTime(grid, bar + 1);
    if (end > durationSeconds + 0.25 * (end - time)) return bars;
    bars.push({ bar, time, bpm: (60 * size) / (end - time) });
  }
}

/** A steady grid with the average tempo of bars `from` … `to` (both included); the one stays. */
export function averageOfBars(grid: Grid, from: number, to: number): Grid {
  if (!(to >= from)) throw new RangeError(`bars ${from} to ${to} are none`);
  const beats = (to - from + 1) * feltBeatsPerBar(grid.meter);
  const seconds = barTime(grid, to + 1) - barTime(grid, from);
  return { ...grid, tempoBpm: (60 * beats) / seconds, movingBeats: null };
}

/** Hits further from the smoothed line than this many median distances are loose and not followed. */
const LOOSE = 4;
const PASSES = 6;

/**
 * Lets a grid follow the playing. A steady one first walks from the one beat by beat, each hit near the
 * expected place correcting place and tempo a little (a phase-locked loop); then each beat is put onto the locally
 * weighted line through the hits near the beats, `smoothBeats` to both sides (Cleveland 1979, robust: loose hits
 * do not pull). Returns a moving grid over the whole file.
 */
export function followHits(
  onsets: readonly Onset[],
  grid: Grid,
  durationSeconds: number,
  smoothBeats: number,
): Grid {
  let moving = grid.movingBeats ? grid : walk(onsets, grid, durationSeconds);
  for (let pass = 0; pass < PASSES; pass++) {
    const found = deviations(onsets, moving, durationSeconds);
    if (found.length < 4) return moving;
    const oneAt = moving.movingBeats!.indexOf(moving.one);
    const beats = moving.movingBeats!.map((_, i) => onLocalLine(found, i - oneAt, smoothBeats));
    for (let i = 1; i < beats.length; i++) if (beats[i] <= beats[i - 1]) return moving;
    const furthest = beats.reduce(
      (most, time, i) => Math.max(most, Math.abs(time - moving.movingBeats![i])),
      0,
    );
    moving = { ...moving, movingBeats: beats, one: beats[oneAt], tempoBpm: averageTempo(beats) };
    if (furthest < 2e-4) break;
  }
  return moving;
}

/** So many beats at the beginning of a recording follow the line of so many behind them. */
const HELD = 2;
const HELD_BY = 8;
/** A first beat that stands no later than this is the beginning of the recording itself, seconds. */
const AT_BEGINNING = 0.06;

/**
 * Beats whose first two stand on the line of the eight that follow them (median slope, Sen 1968), where the recording begins with its first
 * hit: nothing stands before it, so that a tracker sets the first beats too late, and the first bar would seem the fastest. Others, and
 * fewer beats, stay as they are.
 */
export function beginningHeld(beats: readonly number[]): number[] {
  if (beats.length < HELD + HELD_BY || beats[0] > AT_BEGINNING) return [...beats];
  const places = Array.from({ length: HELD_BY }, (_, i) => HELD + i);
  const slope = medianSlope(
    places,
    places.map((place) => beats[place]),
    1,
  )!;
  const begin = median(places.map((place) => beats[place] - slope * place));
  const held = Array.from({ length: HELD }, (_, place) => begin + slope * place);
  return held[HELD - 1] < beats[HELD] ? [...held, ...beats.slice(HELD)] : [...beats];
}

/** A grid as a list of its beats from the first in the file to the first after it. */
export function asMoving(grid: Grid, durationSeconds: number): Grid {
  if (grid.movingBeats) return grid;
  const first = Math.ceil(beatPosition(grid, 0) - 1e-6);
  const last = Math.max(first + 1, Math.ceil(beatPosition(grid, durationSeconds)));
  const from = Math.min(0, first);
  const movingBeats = Array.from({ length: last - from + 1 }, (_, i) => beatTime(grid, from + i));
  return { ...grid, one: movingBeats[-from], movingBeats };
}

/** The tempo at the beginning is measured over this many beats. */
const FIRST_BEATS = 24;
/** Shares of a hit's distance by which it corrects the place and the period of what follows. */
const PLACE_GAIN = 0.45;
const PERIOD_GAIN = 0.12;
/** Hits further from the expected place than this share of a beat are not followed. */
const WALK_REACH = 0.2;

function walk(onsets: readonly Onset[], grid: Grid, durationSeconds: number): Grid {
  const period = 60 / grid.tempoBpm;
  const early = onsets.filter(({ time }) => Math.abs(time - grid.one) < FIRST_BEATS * period);
  const begun = measureLean(early, grid);
  const from = begun ? 60 / begun.uprightBpm : period;
  const onwards = walkOneWay(onsets, grid.one, from, (time) => time < durationSeconds);
  const back = walkOneWay(onsets, grid.one, -from, (time) => time >= -0.001);
  // The last beat found lies outside; before the file none is needed.
  const movingBeats = [...back.slice(1, -1).reverse(), ...onwards];
  return { ...grid, movingBeats, tempoBpm: averageTempo(movingBeats) };
}

/** Beat times from `start` on in steps of about `period` (negative: backwards) up to the first outside. */
function walkOneWay(
  onsets: readonly Onset[],
  start: number,
  period: number,
  inside: (time: number) => boolean,
): number[] {
  const beats = [start];
  const [slowest, fastest] = [Math.abs(period) * 1.4, Math.abs(period) / 1.4];
  let step = period;
  let expected = start + step;
  while (inside(expected)) {
    const reach = WALK_REACH * Math.abs(step);
    let best: Onset | null = null;
    let bestWorth = 0;
    for (const onset of onsets) {
      const away = Math.abs(onset.time - expected);
      const worth = Math.min(8, onset.strength) * (1 - (away / reach) ** 2);
      if (away < reach && worth > bestWorth) [best, bestWorth] = [onset, worth];
    }
    const error = best ? best.time - expected : 0;
    const beat = expected + PLACE_GAIN * error;
    beats.push(beat);
    const size = Math.max(fastest, Math.min(slowest, Math.abs(step + PERIOD_GAIN * error)));
    step = Math.sign(period) * size;
    expected = beat + step;
  }
  beats.push(expected);
  return beats;
}

/** Time of beat `at` on the robust line through the hits around it, seconds. */
function onLocalLine(
  found: readonly { beat: number; time: number; strength: number }[],
  at: number,
  reach: number,
): number {
  // Where hits are sparse the reach grows until there are enough for a line.
  let near = found.filter(({ beat }) => Math.abs(beat - at) <= reach);
  for (let wide = 2 * reach; near.length < 4; wide *= 2)
    near = found.filter(({ beat }) => Math.abs(beat - at) <= wide);
  const furthest = Math.max(1, ...near.map(({ beat }) => Math.abs(beat - at))) * 1.01;
  const origin = near[0].time;
  const x = near.map(({ beat }) => beat - at);
  const y = near.map(({ time }) => time - origin);
  const worth = near.map(
    ({ strength }, i) => (1 - (Math.abs(x[i]) / furthest) ** 3) ** 3 * Math.min(8, strength),
  );
  let robust = near.map(() => 1);
  let value = 0;
  for (let pass = 0; pass < 4; pass++) {
    const line = fitLine(
      x,
      y,
      worth.map((w, i) => w * robust[i]),
    );
    value = line.intercept;
    // What is far off keeps a little weight: where hits are sparse there would be no line without it.
    robust = biweights(residuals(line, x, y), LOOSE, 0.002).map((w) => w || 1e-3);
  }
  return origin + value;
}
