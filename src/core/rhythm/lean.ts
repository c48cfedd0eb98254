import type { Grid } from './grid';
import type { Onset } from './onsets';
import { fitSteady } from './steadyFit';

/** How the fold's columns stand: the error of a steady grid's tempo and of its one. */
export interface Lean {
  /** Grid minus the upright tempo, BPM: positive when hits come later from row to row. */
  leanBpm: number;
  /** The tempo at which the columns stand upright. */
  uprightBpm: number;
  /** The place nearest the grid's one at which the columns stand on the rules, seconds. */
  uprightOne: number;
  /** How far the hits' columns stand behind the rules at the one, ms. */
  offsetMs: number;
  /** 0 … 1: share of the strength of all hits that then lies in columns on beats or their halves and quarters. */
  gathered: number;
}

/** Columns are looked for at tempi up to this share away. */
const REACH = 0.025;
/** What hits count that are in phase with beats, with their halves, with their quarters. */
const DIVISIONS = [1, 0.6, 0.4];
/** A tempo at the edge of the reach counts this much less, so that equal ones are won by the nearer. */
const EDGE = 0.15;
const STRONGEST = 12;
/** Columns are looked for among so many of the strongest hits: enough for any song, and quick. */
const MOST_HITS = 500;

/**
 * Finds the tempo near a steady grid's at which hits gather in upright columns: the sum of the hits' unit
 * vectors at the beat's frequency and its double and fourfold is largest (the Rayleigh periodogram of point
 * events), then a robust line through the hits nearest the beats. Null with fewer than four hits, for a
 * moving grid, and when no columns stand out.
 */
export function measureLean(onsets: readonly Onset[], grid: Grid): Lean | null {
  if (grid.movingBeats || onsets.length < 4) return null;
  const span = onsets[onsets.length - 1].time - onsets[0].time;
  if (span <= 0) return null;
  const beatsPerSecond = grid.tempoBpm / 60;
  const clear = strongest(onsets);
  const weights = clear.map(({ strength }) => Math.min(STRONGEST, strength));
  const total = weights.reduce((a, b) => a + b, 0);
  const vector = (frequency: number): [number, number] => {
    let re = 0;
    let im = 0;
    for (let i = 0; i < clear.length; i++) {
      const angle = 2 * Math.PI * frequency * (clear[i].time - grid.one);
      re += weights[i] * Math.cos(angle);
      im += weights[i] * Math.sin(angle);
    }
    return [re / total, im / total];
  };
  // A quarter of the resolution of the fourfold.
  const step = Math.max(2e-5, 1 / (16 * beatsPerSecond * span));
  let best = beatsPerSecond;
  let bestScore = -1;
  const faster = turningHits(clear, weights, grid.one, beatsPerSecond, step * beatsPerSecond);
  const slower = turningHits(clear, weights, grid.one, beatsPerSecond, -step * beatsPerSecond);
  for (let shift = 0; shift <= REACH; shift += step) {
    const nearer = (1 - EDGE * (shift / REACH)) / total;
    for (const [frequency, sum] of [
      [beatsPerSecond * (1 + shift), faster()],
      [beatsPerSecond * (1 - shift), slower()],
    ]) {
      if (sum * nearer > bestScore) [best, bestScore] = [frequency, sum * nearer];
    }
  }
  const anchor = nearestPhase(vector, best, grid.one);
  const fit = fitSteady(onsets, 1 / best, anchor);
  const upright = fit ?? { bpm: 60 * best, anchor };
  const period = 60 / upright.bpm;
  // The beat of the fit that is nearest to the one.
  const uprightOne = upright.anchor + Math.round((grid.one - upright.anchor) / period) * period;
  const gathered =
    clear.reduce((sum, { time }, i) => {
      const place = (4 * (time - uprightOne)) / period;
      return sum + (Math.abs(place - Math.round(place)) * period < 0.1 ? weights[i] : 0);
    }, 0) / total;
  return {
    leanBpm: grid.tempoBpm - upright.bpm,
    uprightBpm: upright.bpm,
    uprightOne,
    offsetMs: 1000 * (uprightOne - grid.one),
    gathered,
  };
}

/**
 * How much hits gather at a frequency and its double and fourfold, weighed by `DIVISIONS`: at `from` hertz when it is
 * called first, and `by` hertz further each time. Each hit's vector is turned by the same angle every time, which
 * takes no sines.
 */
function turningHits(
  hits: readonly Onset[],
  weights: readonly number[],
  one: number,
  from: number,
  by: number,
): () => number {
  const angles = (frequency: number) => hits.map(({ time }) => 2 * Math.PI * frequency * (time - one));
  const re = Float64Array.from(angles(from), Math.cos);
  const im = Float64Array.from(angles(from), Math.sin);
  const turnRe = Float64Array.from(angles(by), Math.cos);
  const turnIm = Float64Array.from(angles(by), Math.sin);
  return () => {
    // One by one: taken apart from arrays they would be made again for each hit.
    let x1 = 0;
    let y1 = 0;
    let x2 = 0;
    let y2 = 0;
    let x4 = 0;
    let y4 = 0;
    for (let i = 0; i < hits.length; i++) {
      const x = re[i];
      const y = im[i];
      const worth = weights[i];
      re[i] = x * turnRe[i] - y * turnIm[i];
      im[i] = x * turnIm[i] + y * turnRe[i];
      x1 += worth * x;
      y1 += worth * y;
      // The double angle's vector is the square of the angle's.
      const xx = x * x - y * y;
      const yy = 2 * x * y;
      x2 += worth * xx;
      y2 += worth * yy;
      x4 += worth * (xx * xx - yy * yy);
      y4 += worth * 2 * xx * yy;
    }
    const [beats, halves, quarters] = DIVISIONS;
    return beats * Math.hypot(x1, y1) + halves * Math.hypot(x2, y2) + quarters * Math.hypot(x4, y4);
  };
}

/**
 * The place nearest to the one at which hits gather on beats, or on half beats where these are stronger: which
 * of them is the one is a matter of the music, how far it is from them one of measuring.
 */
function nearestPhase(vector: (frequency: number) => [number, number], frequency: number, one: number) {
  const [beats, halves] = [1, 2].map((times) => {
    const [re, im] = vector(times * frequency);
    return { times, size: Math.hypot(re, im), angle: Math.atan2(im, re) };
  });
  const { times, angle } = halves.size > beats.size ? halves : beats;
  return one + angle / (2 * Math.PI * times * frequency);
}

function strongest(onsets: readonly Onset[]): readonly Onset[] {
  if (onsets.length <= MOST_HITS) return onsets;
  const least = [...onsets].sort((a, b) => b.strength - a.strength)[MOST_HITS - 1].strength;
  return onsets.filter(({ strength }) => strength >= least).slice(0, 2 * MOST_HITS);
}
