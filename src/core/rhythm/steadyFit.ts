import { fitLine } from '../math/lines';
import { middleValue, weightedMedian } from '../math/median';
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
    const distances = t.map((time, i) => Math.abs(time - anchor - k[i] * slope));
    used = {
      hits: k.length,
      spreadMs: 1000 * middleValue(distances),
      bpmError: (60 / slope ** 2) * fit.periodError,
    };
  }
  return used && { bpm: 60 / slope, anchor, ...used };
}

/** How many places a beat has whose hits are alike late or early: halves (swung too), thirds, quarters of it. */
const PLACES = [2, 3, 4];
/** Passes of fitting and of finding each place's own lateness. */
const PLACE_PASSES = 4;
/** Places that explain nearly as many hits as the others are judged by their error: swung hits may straddle two. */
const AS_MUCH = 0.85;
/** Half of the window around the usual lateness of a place, seconds. */
const PLACE_WINDOW = 0.03;

/**
 * Refines a steady fit by all hits, those between the beats too. What stands on one place of the beat may be
 * early or late as a whole (swing, soft attacks): each place has its own lateness, found along with the tempo,
 * so that only how hits of one place go on from beat to beat tells the tempo (regression with an intercept for
 * each group). The grid keeps its lateness on the beats. Returns the fit as it was where too few hits say more.
 */
export function fitPlaces(onsets: readonly Onset[], fit: SteadyFit): SteadyFit {
  const fits = PLACES.flatMap((places) => placed(onsets, fit, places) ?? []);
  const most = Math.max(...fits.map(({ explained }) => explained));
  return fits
    .filter(({ explained }) => explained > AS_MUCH * most)
    .reduce((best, { fit: other }) => (other.bpmError < best.bpmError ? other : best), fit);
}

function placed(
  onsets: readonly Onset[],
  fit: SteadyFit,
  places: number,
): { fit: SteadyFit; explained: number } | null {
  let slope = 60 / fit.bpm;
  let { anchor } = fit;
  const reach = Math.min(PLACE_WINDOW, (0.45 * slope) / places);
  let result: { fit: SteadyFit; explained: number } | null = null;
  for (let pass = 0; pass < PLACE_PASSES; pass++) {
    // Where each hit stands: its place, its step along the grid, and how late it is.
    const step = slope / places;
    const hits = onsets.map(({ time, strength }) => {
      const index = Math.round((time - anchor) / step);
      const place = ((index % places) + places) % places;
      return { place, index, time, late: time - anchor - index * step, strength: Math.min(strength, 12) };
    });
    const usual = Array.from({ length: places }, (_, place) =>
      weightedMedian(
        hits.flatMap((hit) => (hit.place === place ? [{ value: hit.late, weight: hit.strength }] : [])),
      ),
    );
    const used = hits
      .map((hit) => ({ ...hit, off: hit.late - usual[hit.place] }))
      .filter(({ off }) => Math.abs(off) < reach)
      .map((hit) => ({ ...hit, u: (hit.off / reach) ** 2 }));
    const perPlace = usual.map((_, place) => {
      let [w, k, late] = [0, 0, 0];
      for (const hit of used) {
        if (hit.place !== place) continue;
        const weight = hit.strength * (1 - hit.u) ** 2;
        w += weight;
        k += weight * (hit.index / places);
        late += weight * hit.late;
      }
      return { k: k / w, late: late / w };
    });
    let [kk, kt, pulls, stiffness, explained] = [0, 0, 0, 0, 0];
    for (const hit of used) {
      const weight = hit.strength * (1 - hit.u) ** 2;
      const k = hit.index / places - perPlace[hit.place].k;
      kk += weight * k * k;
      kt += weight * k * (hit.late - perPlace[hit.place].late);
      stiffness += hit.strength * (1 - hit.u) * (1 - 5 * hit.u) * k * k;
      explained += weight;
    }
    if (used.length < places + 3 || kk <= 0) return result;
    const change = kt / kk;
    for (const hit of used) {
      const weight = hit.strength * (1 - hit.u) ** 2;
      const k = hit.index / places - perPlace[hit.place].k;
      pulls += (weight * k * (hit.late - perPlace[hit.place].late - change * k)) ** 2;
    }
    // Hits on beats stand for the grid's place; where there are none, that of the fit before stays.
    const onBeats = perPlace[0];
    const middle = Number.isFinite(onBeats.k) ? onBeats : { k: 0, late: 0 };
    anchor += middle.late - change * middle.k;
    slope += change;
    if (Math.abs((slope * fit.bpm) / 60 - 1) > 0.01) return result;
    const freed = used.length / Math.max(1, used.length - places - 1);
    const slopeError = (Math.sqrt(pulls) / Math.max(stiffness, 0.1 * kk)) * Math.sqrt(freed);
    result = {
      fit: { ...fit, bpm: 60 / slope, anchor, bpmError: (60 / slope ** 2) * slopeError },
      explained,
    };
  }
  return result;
}

/** Weighted least squares of t over k; `slopes` are the derivatives of the weighted residuals, for the error. */
function regress(
  k: ArrayLike<number>,
  t: ArrayLike<number>,
  w: ArrayLike<number>,
  slopes: ArrayLike<number>,
) {
  const { slope: period, intercept: anchor } = fitLine(k, t, w);
  let [sw, sk] = [0, 0];
  for (let i = 0; i < k.length; i++) {
    sw += w[i];
    sk += w[i] * k[i];
  }
  const mk = sk / sw;
  let kk = 0;
  for (let i = 0; i < k.length; i++) kk += w[i] * (k[i] - mk) ** 2;
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
