import { fitLine, residuals, robustLine } from '../math/lines';
import { median } from '../math/median';

/** What a row of taps says. */
export interface TapEstimate {
  bpm: number;
  /** Standard error of the tempo, BPM. */
  bpmError: number;
  /** 0 … 1: from the number of taps, their spread, and how many had to be explained as missed or doubled. */
  sureness: number;
  /** Time of a beat near the last tap, on the clock of the taps, seconds. */
  anchor: number;
  spreadMs: number;
  taps: number;
  missed: number;
  doubled: number;
  /** Single taps beside the beat, which are left out. */
  strays: number;
  /** The shortest and the longest time between two taps, ms. */
  gapsMs: [shortest: number, longest: number];
  /** Taps before a long pause, which are left out, and how long that was, seconds. */
  leftOut: { taps: number; pauseSeconds: number } | null;
}

/** A pause longer than this begins a new row of taps. */
const NEW_ROW_SECONDS = 3;

/**
 * The tempo of somebody tapping along, robust against missed beats, single extra taps and stretches tapped
 * at double time: the beat is the interval that explains most others as half, one, two, three or four of
 * it; taps are placed on half beats accordingly and a line is fitted through them with Tukey's biweight.
 * `times` are rising seconds on any clock; only the last row without a long pause counts. Null for fewer
 * than three taps.
 */
export function estimateTaps(times: readonly number[]): TapEstimate | null {
  const start = rowFrom(times);
  const tapped = times.slice(start);
  if (tapped.length < 3) return null;
  const period = bestPeriod(intervalsOf(tapped));
  const row = withoutStrays(tapped, period);
  const intervals = intervalsOf(row);

  const places = [0];
  let missed = 0;
  let doubled = 0;
  for (const interval of intervals) {
    const halves = Math.max(1, Math.round((2 * interval) / period));
    // Between half and one beat there is nothing: a late half and an early whole are told apart by distance.
    const steps = halves === 1 ? 1 : 2 * Math.round(halves / 2);
    if (steps === 1) doubled++;
    if (steps > 2) missed += steps / 2 - 1;
    places.push(places[places.length - 1] + steps);
  }
  const line = robustLine(places, row, fitLine(places, row), { reach: 6, least: 0.004, passes: 4 });
  const { slope, intercept } = line;
  const beat = 2 * slope;
  const spread = median(residuals(line, places, row).map(Math.abs));
  const mean = places.reduce((a, b) => a + b, 0) / places.length;
  const extent = Math.sqrt(places.reduce((sum, place) => sum + (place - mean) ** 2, 0));
  const slopeError = (1.48 * spread + 0.002) / extent;
  const bpm = 60 / beat;
  const bpmError = (bpm * slopeError) / slope;
  const odd = (missed + doubled) / intervals.length;
  const sureness = Math.max(
    0,
    Math.min(0.97, (1 - 3 / row.length) * Math.exp(-8 * (spread / beat)) * (1 - 0.5 * odd)),
  );
  const lastBeat = Math.ceil(places[places.length - 1] / 2) * 2;
  return {
    bpm,
    bpmError,
    sureness,
    anchor: intercept + slope * lastBeat,
    spreadMs: 1000 * spread,
    taps: row.length,
    missed,
    doubled,
    strays: tapped.length - row.length,
    gapsMs: [1000 * Math.min(...intervals), 1000 * Math.max(...intervals)],
    leftOut: start === 0 ? null : { taps: start, pauseSeconds: times[start] - times[start - 1] },
  };
}

const intervalsOf = (row: readonly number[]) => row.slice(1).map((time, i) => time - row[i]);

/** How far a tap may stand from a beat or half a beat, and its neighbours from whole beats, in beats. */
const STRAY = 0.2;
const WHOLE = 0.15;

/**
 * Taps without single ones beside the beat: those that stand on no half of it while both neighbours are whole beats apart. Counted
 * with, one of them would shift all taps behind it.
 */
function withoutStrays(row: readonly number[], period: number): number[] {
  const kept = row.filter((time, i) => {
    if (i === 0 || i === row.length - 1) return true;
    const before = (time - row[i - 1]) / period;
    const around = (row[i + 1] - row[i - 1]) / period;
    const isWhole = Math.abs(around - Math.round(around)) < WHOLE && around > 0.5;
    const onBeat = Math.abs(before - Math.max(1, Math.round(before)));
    // Halves are tapped in pairs.
    const onHalf = Math.round(around) === 1 ? Math.abs(before - 0.5) : Infinity;
    return !isWhole || Math.min(onBeat, onHalf) < STRAY;
  });
  return kept.length < 3 ? [...row] : kept;
}

/** Where the last row of taps without a long pause begins. */
function rowFrom(times: readonly number[]): number {
  let start = 0;
  for (let i = 1; i < times.length; i++) if (times[i] - times[i - 1] > NEW_ROW_SECONDS) start = i;
  return start;
}

/** The interval whose half, whole and multiples explain the others best; wholes count most. */
function bestPeriod(intervals: readonly number[]): number {
  let best = intervals[0];
  let bestScore = -Infinity;
  for (const period of intervals) {
    let score = 0;
    for (const interval of intervals) {
      for (const [ratio, worth] of [
        [1, 1],
        [0.5, 0.45],
        [2, 0.45],
        [3, 0.3],
        [4, 0.3],
      ]) {
        const distance = Math.log(interval / (ratio * period)) / 0.09;
        score += worth * Math.exp(-0.5 * distance * distance);
      }
    }
    if (score > bestScore) {
      bestScore = score;
      best = period;
    }
  }
  const alike = intervals.filter((interval) => Math.abs(Math.log(interval / best)) < 0.2);
  return median(alike);
}
