import { autocorrelation } from '../signal/fft';
import { kernels } from '../signal/kernels';
import { buffersOf } from './buffers';
import { addPower, type Analyser } from './analyser';
import { peaksOn } from './turns';

/** So many frames of each length are looked at, at most. */
const LOOKS = 8;
/** A shorter length is taken where it is incoherent by no more than this many times, and by this much more, than the best. */
const TIMES = 1.1;
const MORE = 0.002;

/**
 * The shortest length of frames that tells what sounds in a stretch of the source apart: that in which what lies around a peak of
 * the spectrum goes on over a hop as the peak does. Partials that one frame cannot tell apart beat against each other, and
 * what moves within a frame goes on here and there differently.
 */
export function bestWindow(windows: readonly number[], from: number, to: number, analyser: Analyser): number {
  if (windows.length === 1) return windows[0];
  const incoherences = windows.map((size) => incoherenceOf(size, from, to, analyser));
  const least = Math.min(...incoherences);
  return windows[incoherences.findIndex((value) => value <= least * TIMES + MORE)];
}

function incoherenceOf(size: number, from: number, to: number, analyser: Analyser): number {
  const count = size / analyser.stride;
  const bins = count / 2;
  const hop = size / 4;
  const room = new Float32Array(count);
  const now = new Float32Array(count);
  const then = new Float32Array(count);
  const power = new Float32Array(bins);
  const looks = Math.max(1, Math.min(LOOKS, Math.round((to - from) / hop)));
  let all = 0;
  let coherent = 0;
  for (let look = 0; look < looks; look++) {
    const centre = Math.round(from + ((look + 0.5) / looks) * (to - from));
    // All channels in turn: each look in one of them costs half of one in both.
    const channel = look % analyser.channels;
    power.fill(0);
    analyser.hear(channel, centre, analyser.maskAt(centre, room), now);
    analyser.hear(channel, centre - hop, analyser.maskAt(centre - hop, room), then);
    addPower(now, power);
    const [looked, together] = coherenceOf(now, then, power);
    all += looked;
    coherent += together;
  }
  return all > 0 ? 1 - coherent / all : 1;
}

/**
 * How far the bins of a spectrum go on from another, added up about the peaks of `power` but the one that stands still: by
 * themselves, and along their peaks.
 */
function coherenceOf(now: Float32Array, then: Float32Array, power: Float32Array): Float64Array {
  const buffers = buffersOf(now.length);
  const { spectrum, other, re, im, sizes, peaks, sums } = buffers;
  const count = peaksOn(buffers, power);
  spectrum.values.set(now);
  other.values.set(then);
  kernels.advances(
    ...([spectrum.address, other.address] as const),
    ...([re.address, im.address, sizes.address, buffers.bins] as const),
  );
  kernels.coherence(peaks.address, count, re.address, im.address, sizes.address, sums.address);
  return sums.values;
}

/** Periods that are looked for, seconds: of 25 to 1100 Hz. */
const SHORTEST_PERIOD = 0.0009;
const LONGEST_PERIOD = 0.036;
/** So much is listened to for it. */
const HEARD = 16384;
/** Below this there is no period; the first lag that comes so near to the best is one. */
const PERIODIC = 0.8;
const NEARLY_BEST = 0.9;

/** The period of a stretch of samples in frames, where it is periodic; else null. By its autocorrelation. */
export function periodOf(samples: Float32Array, rate: number): number | null {
  const middle = Math.max(0, (samples.length - HEARD) >> 1);
  const piece = samples.subarray(middle, middle + HEARD);
  const shortest = Math.round(SHORTEST_PERIOD * rate);
  const longest = Math.min(Math.round(LONGEST_PERIOD * rate), piece.length >> 1);
  if (longest < 2 * shortest) return null;
  // Each lag against the energy of what overlaps.
  const energies = new Float64Array(piece.length + 1);
  for (let i = 0; i < piece.length; i++) energies[i + 1] = energies[i] + piece[i] * piece[i];
  const energy = energies[piece.length];
  if (energy <= 0) return null;
  const raw = autocorrelation(piece, longest + 1);
  const at = (lag: number) =>
    ((raw[lag] / raw[0]) * energy) /
    Math.sqrt(Math.max(1e-20, energies[piece.length - lag] * (energy - energies[lag])));
  let top = 0;
  for (let lag = shortest; lag <= longest; lag++) top = Math.max(top, at(lag));
  if (top < PERIODIC) return null;
  for (let lag = shortest + 1; lag < longest; lag++)
    if (at(lag) > NEARLY_BEST * top && at(lag) >= at(lag - 1) && at(lag) >= at(lag + 1)) return lag;
  return null;
}

/** Energies are summed over so many samples. */
const BLOCK = 128;
/** A frame within which the level changes by more than this (a factor of energy) hears too long: something ends there. */
const CHANGE = 60;

/** Sums of the energy of all channels, up to each block. */
export function levelsOf(channels: readonly Float32Array[]): Float64Array {
  const [{ length }] = channels;
  const sums = new Float64Array(Math.ceil(length / BLOCK) + 1);
  for (let b = 0; b + 1 < sums.length; b++) {
    let sum = sums[b];
    for (const samples of channels)
      for (let i = b * BLOCK; i < Math.min(length, (b + 1) * BLOCK); i++) sum += samples[i] * samples[i];
    sums[b + 1] = sum;
  }
  return sums;
}

/**
 * The longest frame up to `most` about a place within which the level keeps. `levels`: of what is stretched, from whose
 * beginning all places are counted; `low` to `high` can be heard.
 */
export function steadyWindow(
  windows: readonly number[],
  most: number,
  levels: Float64Array,
  centre: number,
  low: number,
  high: number,
): number {
  const blocks = levels.length - 1;
  const blockAt = (place: number) =>
    Math.max(0, Math.min(blocks, Math.round(Math.max(low, Math.min(high, place)) / BLOCK)));
  for (let i = windows.indexOf(most); i > 0; i--) {
    // The middle three fifths, where a Hann window hears.
    const part = windows[i] / 5;
    let top = 1e-12;
    let least = Infinity;
    for (const at of [-1.5, -0.5, 0.5]) {
      const [from, to] = [blockAt(centre + at * part), blockAt(centre + (at + 1) * part)];
      if (to <= from) continue;
      const mean = (levels[to] - levels[from]) / (to - from);
      top = Math.max(top, mean);
      least = Math.min(least, mean);
    }
    if (least * CHANGE >= top) return windows[i];
  }
  return windows[0];
}
