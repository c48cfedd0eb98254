import { growingArray } from './growingArray';

/** The rise is judged between the means of this much sound after and before a point. */
const AFTER_SECONDS = 0.006;
const BEFORE_SECONDS = 0.012;
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
 * same choice for every hit, also when quiet noise precedes it. Returns seconds, exact to one step; searches
 * `reach` seconds to both sides; returns `around` when there is nothing but silence.
 */
export function attackTime({ steps, rate }: AttackEnvelope, around: number, reach: number): number {
  const before = Math.max(2, Math.round(BEFORE_SECONDS * rate));
  const after = Math.max(1, Math.round(AFTER_SECONDS * rate));
  const first = Math.max(0, Math.round((around - reach) * rate));
  const last = Math.min(steps.length - 1, Math.round((around + reach) * rate));
  if (last - first < 4) return around;
  const from = Math.max(0, first - before);
  const to = Math.min(steps.length, last + after);
  const prefix = new Float64Array(to - from + 1);
  for (let i = from; i < to; i++) prefix[i - from + 1] = prefix[i - from] + steps[i];
  const mean = (a: number, b: number) => {
    const lo = a < from ? from : a;
    const hi = b > to ? to : b;
    return hi > lo ? (prefix[hi - from] - prefix[lo - from]) / (b - a) : 0;
  };
  let loudest = 0;
  for (let i = first; i <= last; i++) loudest = Math.max(loudest, mean(i, i + after));
  if (loudest < 1e-13) return around;
  const floor = FLOOR_SHARE * loudest;
  let best = first;
  let bestRise = -1;
  for (let i = first; i <= last; i++) {
    const rise = (mean(i, i + after) + floor) / (mean(i - before, i) + floor);
    if (rise > bestRise) {
      bestRise = rise;
      best = i;
    }
  }
  // Back to the foot: while the last half millisecond still stands out from what was before.
  const step = Math.max(1, Math.round(0.0005 * rate));
  const quiet = mean(best - before, best - 2 * step) + 0.02 * mean(best, best + after);
  let foot = best;
  // What is over within less than the sound that is judged rises anywhere before it: on to where it stands out.
  while (foot < best + after && mean(foot, foot + step) <= 2 * quiet) foot++;
  if (foot === best + after) foot = best;
  while (foot - step > first && mean(foot - step, foot) > quiet) foot -= step;
  return foot / rate;
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

/** What goes round begins with a hit where the energy of the differenced signal rises so many times over the turn. */
const STRUCK_RISE = 6;

/**
 * Whether channels that go round begin with a hit, by the rise from before their end to after their beginning. In the file itself there
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
  const before = Math.round(BEFORE_SECONDS * sampleRate);
  const after = mean(0, Math.round(AFTER_SECONDS * sampleRate));
  return after > 1e-10 && after > STRUCK_RISE * mean(-before, before);
}
