import { lastNotAfter } from '../math/bisect';
import { beatPosition, beatTime, type Grid } from '../rhythm/grid';

/**
 * Where every moment of a source stands in the result: straight between knots, rising, seconds on both sides. Beyond its
 * ends the first and the last piece go on. Nothing is rounded here; that happens once, when frames are made.
 */
export interface TimeMap {
  /** Rising strictly, at least two. */
  readonly source: readonly number[];
  /** As many, rising strictly. */
  readonly result: readonly number[];
}

/** A map through these knots. Throws RangeError where there are fewer than two, or where either side does not rise. */
export function timeMap(source: readonly number[], result: readonly number[]): TimeMap {
  if (source.length !== result.length || source.length < 2)
    throw new RangeError(
      `a time map needs as many results as sources, two at least: ${source.length}, ${result.length}`,
    );
  for (let i = 0; i < source.length; i++) {
    if (!Number.isFinite(source[i]) || !Number.isFinite(result[i]))
      throw new RangeError(`knot ${i + 1} of the time map is no number`);
    if (i > 0 && !(source[i] > source[i - 1] && result[i] > result[i - 1]))
      throw new RangeError(`the time map does not rise at knot ${i + 1}: ${source[i]} → ${result[i]}`);
  }
  return { source, result };
}

/** Everything takes `ratio` times as long; the source's beginning stays the beginning. */
export const steadyMap = (ratio: number): TimeMap => timeMap([0, 1], [0, ratio]);

function along(from: readonly number[], to: readonly number[], x: number): number {
  const i = Math.max(0, Math.min(from.length - 2, lastNotAfter(from, x)));
  const share = (x - from[i]) / (from[i + 1] - from[i]);
  // From the nearer knot, so that knots are met to the last bit.
  return share <= 0.5 ? to[i] + share * (to[i + 1] - to[i]) : to[i + 1] - (1 - share) * (to[i + 1] - to[i]);
}

/** Where a moment of the source stands in the result. */
export const toResult = ({ source, result }: TimeMap, time: number): number => along(source, result, time);

/** Which moment of the source stands there in the result. */
export const toSource = ({ source, result }: TimeMap, time: number): number => along(result, source, time);

/** How many seconds of the result a second of the source becomes, at a moment of the source. */
export function slopeAt({ source, result }: TimeMap, time: number): number {
  const i = Math.max(0, Math.min(source.length - 2, lastNotAfter(source, time)));
  return (result[i + 1] - result[i]) / (source[i + 1] - source[i]);
}

/** The way back. */
export const inverse = ({ source, result }: TimeMap): TimeMap => ({ source: result, result: source });

/** Two knots that lie nearer to each other are one, seconds: far below a sample. */
const SAME = 1e-9;

function merged(times: readonly number[]): number[] {
  const sorted = [...times].sort((a, b) => a - b);
  return sorted.filter((time, i) => i === 0 || time - sorted[i - 1] > SAME);
}

/** First `first`, then `then`: from the source of the one to the result of the other. */
export function composed(first: TimeMap, then: TimeMap): TimeMap {
  const source = merged([...first.source, ...then.source.map((time) => toSource(first, time))]);
  return timeMap(
    source,
    source.map((time) => toResult(then, toResult(first, time))),
  );
}

/** The piece between two moments of the source, both sides counted from its beginning. Throws RangeError for an empty one. */
export function cut(map: TimeMap, from: number, to: number): TimeMap {
  if (!(to > from)) throw new RangeError(`nothing lies between ${from} and ${to} s`);
  const inside = map.source.filter((time) => time > from + SAME && time < to - SAME);
  const source = [from, ...inside, to];
  const zero = toResult(map, from);
  return timeMap(
    source.map((time) => time - from),
    source.map((time) => toResult(map, time) - zero),
  );
}

/** The same map, its result moved so that `time` of the source stands at `at`. */
export function anchored(map: TimeMap, time: number, at: number): TimeMap {
  const shift = at - toResult(map, time);
  return { source: map.source, result: map.result.map((there) => there + shift) };
}

/**
 * From one grid to another: every beat of the source stands on the same beat of the result, one knot for each beat where
 * either moves, two where both are steady. `levels`: how many beats of the result one of the source becomes (½ where it is
 * felt at half the speed); `offset`: on which beat of the result the one of the source stands.
 */
export function gridToGrid(from: Grid, to: Grid, levels = 1, offset = 0): TimeMap {
  const beats = new Set<number>();
  const knotsOf = (grid: Grid, beatOf: (beat: number) => number) => {
    for (const time of grid.movingBeats ?? []) beats.add(beatOf(beatPosition(grid, time)));
  };
  knotsOf(from, (beat) => beat);
  knotsOf(to, (beat) => (beat - offset) / levels);
  const places = merged(beats.size >= 2 ? [...beats] : [0, 1]);
  return timeMap(
    places.map((beat) => beatTime(from, beat)),
    places.map((beat) => beatTime(to, offset + beat * levels)),
  );
}

/**
 * From a grid to one tempo: a grid that moves plays steadily, a beat at a time. The source's beginning is that of the result.
 */
export function gridToTempo(grid: Grid, tempoBpm: number, levels = 1): TimeMap {
  const steady: Grid = { ...grid, tempoBpm, movingBeats: null };
  return anchored(gridToGrid(grid, steady, levels), 0, 0);
}

/** From a grid to exactly `frames` frames at `rate` for the stretch between two moments of the source: its end meets a sample. */
export function gridToLength(grid: Grid, from: number, to: number, frames: number, rate: number): TimeMap {
  const beatFrom = beatPosition(grid, from);
  const length = frames / rate;
  const beats = beatPosition(grid, to) - beatFrom;
  if (!(beats > 0 && length > 0))
    throw new RangeError(`nothing of any length lies between ${from} and ${to} s`);
  const piece = cut(gridToTempo(grid, (60 * beats) / length), from, to);
  // The last knot is the length itself, not what a sum of beats comes to.
  return timeMap(piece.source, [...piece.result.slice(0, -1), length]);
}
