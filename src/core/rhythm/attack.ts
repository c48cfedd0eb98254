/** The rise is judged between the means of this much sound after and before a point. */
const AFTER_SECONDS = 0.006;
const BEFORE_SECONDS = 0.012;
/** Share of the loudest place nearby that is added below, so that a whisker of noise does not win over the hit. */
const FLOOR_SHARE = 0.02;

/**
 * The sample-level attack of the hit near `around` seconds: the point where the energy of the
 * differenced signal rises most, judged by the ratio of its means after and before, then followed back
 * to the foot of the rise. The same choice for every hit, also when quiet noise precedes it. Returns
 * seconds; searches `reach` seconds to both sides; returns `around` when there is nothing but silence.
 */
export function attackTime(mono: Float32Array, sampleRate: number, around: number, reach: number): number {
  const before = Math.round(BEFORE_SECONDS * sampleRate);
  const after = Math.round(AFTER_SECONDS * sampleRate);
  const first = Math.max(1, Math.round((around - reach) * sampleRate));
  const last = Math.min(mono.length - 1, Math.round((around + reach) * sampleRate));
  if (last - first < 4) return around;
  const from = Math.max(1, first - before);
  const to = Math.min(mono.length, last + after);
  const prefix = new Float64Array(to - from + 1);
  for (let i = from; i < to; i++) {
    const difference = mono[i] - mono[i - 1];
    prefix[i - from + 1] = prefix[i - from] + difference * difference;
  }
  const mean = (a: number, b: number) => {
    const lo = Math.max(from, a);
    const hi = Math.min(to, b);
    return hi > lo ? (prefix[hi - from] - prefix[lo - from]) / (b - a) : 0;
  };
  let loudest = 0;
  for (let i = first; i <= last; i++) loudest = Math.max(loudest, mean(i, i + after));
  if (loudest < 1e-14) return around;
  const floor = FLOOR_SHARE * loudest;
  let best = first;
  let bestRise = -Infinity;
  for (let i = first; i <= last; i++) {
    const rise = Math.log((mean(i, i + after) + floor) / (mean(i - before, i) + floor));
    if (rise > bestRise) {
      bestRise = rise;
      best = i;
    }
  }
  // Back to the foot: while the last half millisecond still stands out from what was before.
  const step = Math.max(1, Math.round(0.0005 * sampleRate));
  const quiet = mean(best - before, best - 2 * step) + 0.02 * mean(best, best + after);
  let foot = best;
  while (foot - step > first && mean(foot - step, foot) > quiet) foot -= step;
  return foot / sampleRate;
}
