import type { Onset } from './onsets';

/** A steady grid: beat k stands at `anchor + k · 60 / bpm` seconds. */
export interface SteadyFit {
  bpm: number;
  /** Time of one beat of the grid, seconds; the one nearest to the first tracked beat. */
  anchor: number;
  /** Standard error of the tempo, BPM, from the residuals of the hits that were used. */
  bpmError: number;
  /** Median absolute distance of those hits from the grid, ms. */
  spreadMs: number;
  /** Hits that lie on the grid's beats. */
  hits: number;
}

/** Windows around the grid's beats within which hits count, narrowed pass by pass, seconds. */
const WINDOWS = [0.07, 0.045, 0.03, 0.025];

/**
 * The steady grid that explains the hits best, refined over the whole recording: the period by phase
 * folding (the magnitude of the hits' Fourier sum at the period and its subdivisions, maximised finely
 * enough that the phase at the far end is settled), then place and period by robust regression of the
 * hits nearest to the beats (Tukey's biweight). Returns null for fewer than three beats or hits.
 */
export function fitSteady(onsets: readonly Onset[], beats: Float64Array): SteadyFit | null {
  if (beats.length < 3 || onsets.length < 3) return null;
  const start = regress(indexed(beats), beats);
  if (!(start.period > 0)) return null;
  const period = foldedPeriod(onsets, start.period, beats.length);
  let anchor = beats[0] + meanPhase(beats, period, beats[0]);
  let slope = period;
  let used = { hits: 0, spreadMs: Infinity, bpmError: Infinity };
  for (const window of WINDOWS) {
    const k: number[] = [];
    const t: number[] = [];
    const w: number[] = [];
    for (const onset of onsets) {
      const index = Math.round((onset.time - anchor) / slope);
      const distance = onset.time - anchor - index * slope;
      if (Math.abs(distance) > window) continue;
      k.push(index);
      t.push(onset.time);
      w.push(Math.min(onset.strength, 12) * (1 - (distance / window) ** 2) ** 2 + 1e-6);
    }
    if (k.length < 3 || new Set(k).size < 3) break;
    const fit = regress(k, t, w);
    // A few hits over a short stretch may not turn the period that folding has found.
    if (Math.abs(fit.period / period - 1) < 0.01) {
      slope = fit.period;
      anchor = fit.anchor;
    } else break;
    const residuals = t.map((time, i) => Math.abs(time - anchor - k[i] * slope)).sort((a, b) => a - b);
    used = {
      hits: k.length,
      spreadMs: 1000 * residuals[residuals.length >> 1],
      bpmError: (60 / slope ** 2) * fit.periodError,
    };
  }
  if (used.hits === 0) return null;
  const shift = Math.round((beats[0] - anchor) / slope);
  return { bpm: 60 / slope, anchor: anchor + shift * slope, ...used };
}

/** Beat numbers of tracked beats: gaps of two periods count as two. */
function indexed(beats: Float64Array): number[] {
  const intervals = Array.from(beats.subarray(1), (beat, i) => beat - beats[i]).sort((a, b) => a - b);
  const typical = intervals[intervals.length >> 1];
  const index = [0];
  for (let i = 1; i < beats.length; i++)
    index.push(index[i - 1] + Math.max(1, Math.round((beats[i] - beats[i - 1]) / typical)));
  return index;
}

/** Weighted least squares of t over k. */
function regress(k: ArrayLike<number>, t: ArrayLike<number>, w?: ArrayLike<number>) {
  let sw = 0;
  let sk = 0;
  let st = 0;
  for (let i = 0; i < k.length; i++) {
    const weight = w ? w[i] : 1;
    sw += weight;
    sk += weight * k[i];
    st += weight * t[i];
  }
  const mk = sk / sw;
  const mt = st / sw;
  let kk = 0;
  let kt = 0;
  for (let i = 0; i < k.length; i++) {
    const weight = w ? w[i] : 1;
    kk += weight * (k[i] - mk) ** 2;
    kt += weight * (k[i] - mk) * (t[i] - mt);
  }
  const period = kt / kk;
  const anchor = mt - period * mk;
  let rr = 0;
  for (let i = 0; i < k.length; i++) rr += (w ? w[i] : 1) * (t[i] - anchor - period * k[i]) ** 2;
  const periodError = Math.sqrt(rr / sw / Math.max(1, k.length - 2) / (kk / sw));
  return { period, anchor, periodError };
}

function foldedPeriod(onsets: readonly Onset[], around: number, beatCount: number): number {
  const reach = Math.min(0.015, 1.5 / beatCount + 0.001);
  const step = 0.08 / (beatCount * 4);
  const steps = Math.min(400, Math.ceil(reach / step));
  let best = around;
  let bestScore = -Infinity;
  for (let s = -steps; s <= steps; s++) {
    const period = around * (1 + (reach * s) / steps);
    const score = foldedMagnitude(onsets, period);
    if (score > bestScore) {
      bestScore = score;
      best = period;
    }
  }
  return best;
}

function foldedMagnitude(onsets: readonly Onset[], period: number): number {
  const omega = (2 * Math.PI) / period;
  let r1 = 0;
  let i1 = 0;
  let r2 = 0;
  let i2 = 0;
  let r4 = 0;
  let i4 = 0;
  for (const { time, strength } of onsets) {
    const c = Math.cos(omega * time);
    const s = Math.sin(omega * time);
    const c2 = c * c - s * s;
    const s2 = 2 * c * s;
    const weight = Math.min(strength, 12);
    r1 += weight * c;
    i1 += weight * s;
    r2 += weight * c2;
    i2 += weight * s2;
    r4 += weight * (c2 * c2 - s2 * s2);
    i4 += weight * 2 * c2 * s2;
  }
  return Math.hypot(r1, i1) + 0.6 * Math.hypot(r2, i2) + 0.4 * Math.hypot(r4, i4);
}

/** Circular mean of the beats' distances from the grid through `anchor`. */
function meanPhase(beats: Float64Array, period: number, anchor: number): number {
  let re = 0;
  let im = 0;
  for (const beat of beats) {
    const angle = (2 * Math.PI * (beat - anchor)) / period;
    re += Math.cos(angle);
    im += Math.sin(angle);
  }
  return (Math.atan2(im, re) / (2 * Math.PI)) * period;
}
