import { attackNear } from './attack';

/** What is heard where a loop turns from its end to its beginning. */
export interface SeamFigures {
  /** Jump of the value from the last sample before the end to the first of the beginning, share of full scale. */
  step: number;
  /** The jump beside the usual difference of neighbouring samples around it; over 4 or so it cracks. */
  stepRatio: number;
  /** Difference of the slopes on both sides, full scales per millisecond. */
  slope: number;
  /** Level of 20 ms after the turn over that before it, dB: what begins is louder when positive. */
  levelDb: number;
  /**
   * Level that still rings after the end, beside the level of the loop, dB; null when the file ends there or a
   * new hit follows.
   */
  tailDb: number | null;
  /** Until what sounds at the end has fallen by 30 dB after it, seconds; null when the file ends before, or it takes longer than 4 s. */
  tailSeconds: number | null;
}

const LEVEL_SECONDS = 0.02;
const TAIL_SECONDS = 0.05;
/** A tail is followed no farther. */
const LONGEST_TAIL_SECONDS = 4;
const SILENCE = 1e-5;
/** What follows the end and is louder by this much is no tail. */
const NEW_HIT_DB = 6;

/**
 * Figures of the seam of the loop from `start` to `end` seconds, on the mean of the channels. Throws
 * RangeError for bounds outside the audio or closer than a millisecond.
 */
export function seamFigures(
  channels: readonly Float32Array[],
  sampleRate: number,
  start: number,
  end: number,
): SeamFigures {
  const from = Math.round(start * sampleRate);
  const to = Math.round(end * sampleRate);
  const length = channels[0]?.length ?? 0;
  if (!(from >= 0 && to <= length && to - from >= sampleRate / 1000))
    throw new RangeError(`a loop from ${start} to ${end} s does not lie in the audio`);
  const at = (i: number): number => {
    if (i < 0 || i >= length) return 0;
    let sum = 0;
    for (const channel of channels) sum += channel[i];
    return sum / channels.length;
  };
  const step = at(from) - at(to - 1);
  let usual = 0;
  const near = Math.max(8, Math.round(0.002 * sampleRate));
  for (let i = 1; i < near; i++)
    usual +=
      (Math.abs(at(from + i) - at(from + i - 1)) + Math.abs(at(to - i) - at(to - 1 - i))) / (2 * (near - 1));
  const slope = (at(from + 1) - at(from) - (at(to - 1) - at(to - 2))) * (sampleRate / 1000);
  const rms = (a: number, b: number) => {
    const [first, last] = [Math.max(0, a), Math.min(length, b)];
    let sum = 0;
    for (let i = first; i < last; i++) sum += at(i) ** 2;
    return Math.sqrt(sum / Math.max(1, last - first));
  };
  const db = (a: number, b: number) => 20 * Math.log10(Math.max(SILENCE, a) / Math.max(SILENCE, b));
  const levelFrames = Math.round(LEVEL_SECONDS * sampleRate);
  const tailFrames = Math.round(TAIL_SECONDS * sampleRate);
  const after = Math.min(length, to + tailFrames);
  let tailSeconds: number | null = null;
  const atEnd = rms(to - levelFrames, to);
  const newHit = db(rms(to, after), atEnd) > NEW_HIT_DB;
  const last = Math.min(length, to + LONGEST_TAIL_SECONDS * sampleRate);
  for (let i = to; !newHit && i + levelFrames <= last; i += levelFrames) {
    if (db(rms(i, i + levelFrames), atEnd) <= -30 || rms(i, i + levelFrames) <= SILENCE) {
      tailSeconds = (i - to) / sampleRate;
      break;
    }
  }
  return {
    step,
    stepRatio: Math.abs(step) / Math.max(usual, 1e-6),
    slope,
    levelDb: db(rms(from, from + levelFrames), rms(to - levelFrames, to)),
    tailDb: newHit || after - to < levelFrames ? null : db(rms(to, after), rms(from, to)),
    tailSeconds,
  };
}

/**
 * The shift of both bounds (so that the length stays) by at most `reach` seconds at which the seam is quietest:
 * smallest jump of value and slope, both bounds at upward or downward zero crossings where there are any;
 * of equals the smallest shift. A hit that begins the loop is not cut into: the shift ends before its attack.
 * Seconds.
 */
export function quietestShift(
  channels: readonly Float32Array[],
  sampleRate: number,
  start: number,
  end: number,
  reach = 0.005,
): number {
  const from = Math.round(start * sampleRate);
  const to = Math.round(end * sampleRate);
  const length = channels[0]?.length ?? 0;
  const most = Math.round(reach * sampleRate);
  const attack = attackNear(channels, sampleRate, start, 2 * reach);
  const last = Math.max(0, Math.min(most, Math.floor((attack - start) * sampleRate)));
  let best = 0;
  let bestCost = Infinity;
  for (let shift = -most; shift <= last; shift++) {
    if (from + shift < 1 || to + shift > length || from + shift + 1 >= length) continue;
    let cost = 0;
    for (const channel of channels) {
      const [a1, a0] = [channel[to + shift - 2] ?? 0, channel[to + shift - 1]];
      const [b0, b1] = [channel[from + shift], channel[from + shift + 1]];
      // The value expected next, against what comes; and the value itself, so that silence and crossings win.
      cost +=
        Math.abs(b0 - (2 * a0 - a1)) +
        0.5 * Math.abs(b1 - b0 - (a0 - a1)) +
        0.3 * (Math.abs(a0) + Math.abs(b0));
    }
    cost += 1e-4 * (Math.abs(shift) / most);
    if (cost < bestCost) [best, bestCost] = [shift, cost];
  }
  return best / sampleRate;
}

/** The upward or downward zero crossing of the mean of the channels nearest to `time`, seconds; `time` when there is none within `reach`. */
export function nearestZeroCrossing(
  channels: readonly Float32Array[],
  sampleRate: number,
  time: number,
  reach = 0.01,
): number {
  const length = channels[0]?.length ?? 0;
  const at = (i: number) => channels.reduce((sum, channel) => sum + channel[i], 0);
  const centre = Math.round(time * sampleRate);
  const most = Math.round(reach * sampleRate);
  for (let away = 0; away <= most; away++) {
    for (const i of [centre + away, centre - away]) {
      if (i < 1 || i >= length) continue;
      const [a, b] = [at(i - 1), at(i)];
      if (b === 0 && a === 0) return i / sampleRate;
      if ((a < 0 && b >= 0) || (a > 0 && b <= 0)) return (i - 1 + a / (a - b)) / sampleRate;
    }
  }
  return time;
}
