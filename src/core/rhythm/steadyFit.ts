import type { Onset } from './onsets';
import type { Periodicity } from './tempogram';

/** A steady grid: beat k stands at `anchor + k · 60 / bpm` seconds. */
export interface SteadyFit {
  bpm: number;
  /** Time of one beat of the grid, seconds. */
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
 * The period near `around` seconds at which the whole recording folds best: the maximum of its spectrum at
 * the period and at its subdivisions, so that the phase at the far end is settled. `reach` is the largest
 * relative change.
 */
export function foldedPeriod(periodic: Periodicity, around: number, seconds: number, reach = 0.012): number {
  const score = (period: number) =>
    periodic.wholeAt(period) + 0.6 * periodic.wholeAt(period / 2) + 0.4 * periodic.wholeAt(period / 4);
  // Half a spectral bin of the fastest subdivision.
  const step = Math.max(2e-5, (0.1 * around) / (4 * seconds));
  let best = around;
  let bestScore = -1;
  for (let shift = -reach; shift <= reach; shift += step) {
    const value = score(around * (1 + shift));
    if (value > bestScore) {
      bestScore = value;
      best = around * (1 + shift);
    }
  }
  return best;
}

/**
 * Refines a steady grid by robust regression of the hits nearest to its beats over the whole recording
 * (Tukey's biweight, windows narrowed pass by pass). Null when fewer than three beats have hits near them.
 */
export function fitSteady(onsets: readonly Onset[], period: number, anchor: number): SteadyFit | null {
  let slope = period;
  let used: { hits: number; spreadMs: number; bpmError: number } | null = null;
  for (const window of WINDOWS) {
    const k: number[] = [];
    const t: number[] = [];
    const w: number[] = [];
    const slopes: number[] = [];
    const reach = Math.min(window, 0.25 * slope);
    for (const onset of onsets) {
      const index = Math.round((onset.time - anchor) / slope);
      const distance = onset.time - anchor - index * slope;
      if (Math.abs(distance) > reach) continue;
      k.push(index);
      t.push(onset.time);
      const strength = Math.min(onset.strength, 12);
      const u = (distance / reach) ** 2;
      w.push(strength * (1 - u) ** 2 + 1e-6);
      slopes.push(strength * (1 - u) * (1 - 5 * u));
    }
    if (k.length < 3 || new Set(k).size < 3) break;
    const fit = regress(k, t, w, slopes);
    // A few hits over a short stretch may not turn the period that folding has found.
    if (Math.abs(fit.period / period - 1) > 0.01) break;
    slope = fit.period;
    anchor = fit.anchor;
    const residuals = t.map((time, i) => Math.abs(time - anchor - k[i] * slope)).sort((a, b) => a - b);
    used = {
      hits: k.length,
      spreadMs: 1000 * residuals[residuals.length >> 1],
      bpmError: (60 / slope ** 2) * fit.periodError,
    };
  }
  return used && { bpm: 60 / slope, anchor, ...used };
}

/** Weighted least squares of t over k; `slopes` are the derivatives of the weighted residuals, for the error. */
function regress(
  k: ArrayLike<number>,
  t: ArrayLike<number>,
  w: ArrayLike<number>,
  slopes: ArrayLike<number>,
) {
  let sw = 0;
  let sk = 0;
  let st = 0;
  for (let i = 0; i < k.length; i++) {
    sw += w[i];
    sk += w[i] * k[i];
    st += w[i] * t[i];
  }
  const mk = sk / sw;
  const mt = st / sw;
  let kk = 0;
  let kt = 0;
  for (let i = 0; i < k.length; i++) {
    kk += w[i] * (k[i] - mk) ** 2;
    kt += w[i] * (k[i] - mk) * (t[i] - mt);
  }
  const period = kt / kk;
  const anchor = mt - period * mk;
  // The weights depend on the residuals: the error of such an estimate (Huber 1981) is not that of plain
  // regression, which would be too small.
  let pulls = 0;
  let stiffness = 0;
  for (let i = 0; i < k.length; i++) {
    pulls += (w[i] * (k[i] - mk) * (t[i] - anchor - period * k[i])) ** 2;
    stiffness += slopes[i] * (k[i] - mk) ** 2;
  }
  const periodError =
    (Math.sqrt(pulls) / Math.max(stiffness, 0.1 * kk)) * Math.sqrt(k.length / Math.max(1, k.length - 2));
  return { period, anchor, periodError };
}
