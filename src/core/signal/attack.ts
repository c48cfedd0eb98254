import { growingArray } from './growingArray';

/**
 * The rise is judged between the mean of this much sound after a point and the louder of two such stretches before it: a low
 * note swells with each of its own turns, 24 ms of them at 41 Hz, and none of these is its beginning.
 */
const STRETCH_SECONDS = 0.012;
/** Share of the loudest place nearby that is added below, so that noise before the hit does not win over it. */
const FLOOR_SHARE = 0.02;

/** Energy of the differenced signal in short steps: `steps[i]` covers time i / rate … (i + 1) / rate. */
export interface AttackEnvelope {
  rate: number;
  steps: Float32Array;
}

/** Makes an attack envelope from a stream at `sampleRate`, `samplesPerStep` samples a step. */
export function attackEnvelopeBuilder(sampleRate: number, samplesPerStep: number) {
  const steps = growingArray();
  let last = 0;
  let sum = 0;
  let count = 0;
  return {
    push(block: Float32Array) {
      const out = new Float32Array(Math.ceil((block.length + count) / samplesPerStep));
      let n = 0;
      // Locals: what closures share is slow to count with.
      let [before, energy, held] = [last, sum, count];
      for (let i = 0; i < block.length; i++) {
        const value = block[i];
        const difference = value - before;
        before = value;
        energy += difference * difference;
        if (++held === samplesPerStep) {
          out[n++] = energy;
          energy = 0;
          held = 0;
        }
      }
      [last, sum, count] = [before, energy, held];
      steps.append(out.subarray(0, n));
    },
    finish: (): AttackEnvelope => ({ rate: sampleRate / samplesPerStep, steps: steps.view() }),
  };
}

/**
 * The attack of the hit near `around` seconds: the point where the energy of the differenced signal rises
 * most, judged by the ratio of its means after and before, then followed back to the foot of the rise. The
 * same choice for every hit, also when quiet noise precedes it. One that rises slowly is placed where it begins to be
 * heard, about a third into its rise (Vos & Rasch 1981 have listeners place it there, too). Returns seconds, exact to one
 * step; searches `reach` seconds to both sides; returns `around` when there is nothing but silence.
 */
export function attackTime({ steps, rate }: AttackEnvelope, around: number, reach: number): number {
  const stretch = Math.max(2, Math.round(STRETCH_SECONDS * rate));
  const first = Math.max(0, Math.round((around - reach) * rate));
  const last = Math.min(steps.length - 1, Math.round((around + reach) * rate));
  if (last - first < 4) return around;
  const from = Math.max(0, first - 2 * stretch);
  const to = Math.min(steps.length, last + stretch);
  const prefix = new Float64Array(to - from + 1);
  for (let i = from; i < to; i++) prefix[i - from + 1] = prefix[i - from] + steps[i];
  const mean = (a: number, b: number) => {
    const lo = a < from ? from : a;
    const hi = b > to ? to : b;
    return hi > lo ? (prefix[hi - from] - prefix[lo - from]) / (b - a) : 0;
  };
  let loudest = 0;
  for (let i = first; i <= last; i++) loudest = Math.max(loudest, mean(i, i + stretch));
  if (loudest < 1e-13) return around;
  const floor = FLOOR_SHARE * loudest;
  let best = first;
  let bestRise = -1;
  for (let i = first; i <= last; i++) {
    const before = Math.max(mean(i - stretch, i), mean(i - 2 * stretch, i - stretch));
    const rise = (mean(i, i + stretch) + floor) / (before + floor);
    if (rise > bestRise) {
      bestRise = rise;
      best = i;
    }
  }
  // Back to the foot: while the last half millisecond still stands out from what was before.
  const step = Math.max(1, Math.round(0.0005 * rate));
  const quiet = mean(best - stretch, best - 2 * step) + 0.02 * mean(best, best + stretch);
  let foot = best;
  // What is over within less than the sound that is judged rises anywhere before it: on to where it stands out.
  while (foot < best + stretch && mean(foot, foot + step) <= 2 * quiet) foot++;
  if (foot === best + stretch) foot = best;
  while (foot - step > first && mean(foot - step, foot) > quiet) foot -= step;
  return foot / rate;
}

/** A hit that has not come up after this has another cause. */
const LONGEST_RISE_SECONDS = 0.15;

/**
 * How long a hit takes from its place (`attackTime`) until the energy of the differenced signal, in the mean over 12 ms, reaches half of
 * its most within 150 ms: hardly anything for what is struck or plucked, a third of the whole rise for what swells. Seconds.
 */
export function attackRise({ steps, rate }: AttackEnvelope, at: number): number {
  const stretch = Math.max(2, Math.round(STRETCH_SECONDS * rate));
  const from = Math.max(0, Math.round(at * rate));
  const to = Math.min(steps.length - stretch, from + Math.round(LONGEST_RISE_SECONDS * rate));
  const sums: number[] = [];
  let sum = 0;
  for (let i = from; i < from + stretch && i < steps.length; i++) sum += steps[i];
  for (let i = from; i < to; i++) {
    sums.push(sum);
    sum += steps[i + stretch] - steps[i];
  }
  const half = 0.5 * sums.reduce((most, one) => Math.max(most, one), 0);
  return (
    Math.max(
      0,
      sums.findIndex((one) => one >= half),
    ) / rate
  );
}

/** An attack envelope of a short stretch of audio around a time, at its own rate, for `attackTime`. */
function envelopeAround(
  channels: readonly Float32Array[],
  sampleRate: number,
  time: number,
  reach: number,
): { envelope: AttackEnvelope; start: number } {
  const step = Math.max(1, Math.round(sampleRate * 0.00027));
  const first = Math.max(0, Math.floor((time - 2 * reach) * sampleRate));
  const last = Math.min(channels[0].length, Math.ceil((time + 2 * reach) * sampleRate));
  const steps = new Float32Array(Math.max(0, Math.floor((last - first) / step)));
  let before = 0;
  for (let i = 0; i < steps.length * step; i++) {
    let value = 0;
    for (const channel of channels) value += channel[first + i] / channels.length;
    if (i > 0) steps[Math.floor(i / step)] += (value - before) ** 2;
    before = value;
  }
  return { envelope: { rate: sampleRate / step, steps }, start: first / sampleRate };
}

/** The attack of the hit nearest to `time`, found as everywhere in Grento, seconds. */
export function attackNear(
  channels: readonly Float32Array[],
  sampleRate: number,
  time: number,
  reach = 0.04,
): number {
  const { envelope, start } = envelopeAround(channels, sampleRate, time, reach);
  return start + attackTime(envelope, time - start, reach);
}

/** What loops begins with a hit where the energy of the differenced signal rises so many times over the turn. */
const STRUCK_RISE = 6;
const TURN = { beforeSeconds: 0.012, afterSeconds: 0.006 };

/**
 * Whether channels that loop begin with a hit, by the rise from before their end to after their beginning. In the file itself there
 * is nothing before it, so that no measurement of the file can tell.
 */
export function isStruckAtTurn(channels: readonly Float32Array[], sampleRate: number): boolean {
  const mean = (from: number, count: number) => {
    let sum = 0;
    for (const samples of channels) {
      const { length } = samples;
      const at = (i: number) => samples[((i % length) + length) % length];
      for (let i = from; i < from + count; i++) sum += (at(i) - at(i - 1)) ** 2;
    }
    return sum / count;
  };
  const before = Math.round(TURN.beforeSeconds * sampleRate);
  const after = mean(0, Math.round(TURN.afterSeconds * sampleRate));
  return after > 1e-10 && after > STRUCK_RISE * mean(-before, before);
}
