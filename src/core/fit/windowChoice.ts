import { autocorrelation } from '../signal/fft';
import type { Ear } from './ear';
import { forEachPeak } from './turns';

/** So many frames of each length are looked at, at most. */
const LOOKS = 8;
/** A shorter length is taken where it is incoherent by no more than this many times, and by this much more, than the best. */
const TIMES = 1.3;
const MORE = 0.002;

/**
 * The shortest length of frames that tells what sounds in a stretch of the source apart: that in which what lies around a peak of
 * the spectrum goes on over a hop as the peak does. Partials that one frame cannot tell apart beat against each other, and
 * what moves within a frame goes on here and there differently.
 */
export function bestWindow(windows: readonly number[], from: number, to: number, ear: Ear): number {
  if (windows.length === 1) return windows[0];
  const incoherences = windows.map((size) => incoherenceOf(size, from, to, ear));
  const least = Math.min(...incoherences);
  return windows[incoherences.findIndex((value) => value <= least * TIMES + MORE)];
}

function incoherenceOf(size: number, from: number, to: number, ear: Ear): number {
  const bins = size / 2;
  const hop = size / 4;
  const mask = new Float32Array(size);
  const now = new Float32Array(size);
  const then = new Float32Array(size);
  const power = new Float32Array(bins);
  const re = new Float32Array(bins);
  const im = new Float32Array(bins);
  const looks = Math.max(1, Math.min(LOOKS, Math.round((to - from) / hop)));
  let all = 0;
  let coherent = 0;
  for (let look = 0; look < looks; look++) {
    const centre = Math.round(from + ((look + 0.5) / looks) * (to - from));
    power.fill(0);
    re.fill(0);
    im.fill(0);
    for (let c = 0; c < ear.channels; c++) {
      ear.maskAt(centre, mask);
      ear.hear(c, centre, mask, now);
      ear.maskAt(centre - hop, mask);
      ear.hear(c, centre - hop, mask, then);
      for (let k = 1; k < bins; k++) {
        const [a, b, x, y] = [now[2 * k], now[2 * k + 1], then[2 * k], then[2 * k + 1]];
        power[k] += a * a + b * b;
        re[k] += a * x + b * y;
        im[k] += b * x - a * y;
      }
    }
    forEachPeak(power, (peak, first, until) => {
      const length = Math.hypot(re[peak], im[peak]);
      if (length === 0) return;
      for (let k = first; k < until; k++) {
        all += Math.hypot(re[k], im[k]);
        coherent += (re[k] * re[peak] + im[k] * im[peak]) / length;
      }
    });
  }
  return all > 0 ? 1 - coherent / all : 1;
}

/** Lags at which a period is looked for, frames of audio. */
const SHORTEST_PERIOD = 40;
const LONGEST_PERIOD = 1600;
const HEARD = 16384;

/** The period of a stretch of samples in frames, where it is periodic; else null. By its autocorrelation. */
export function periodOf(samples: Float32Array): number | null {
  const piece =
    samples.length > HEARD
      ? samples.subarray((samples.length - HEARD) >> 1, (samples.length + HEARD) >> 1)
      : samples;
  const most = Math.min(LONGEST_PERIOD, piece.length >> 1);
  if (most < 2 * SHORTEST_PERIOD) return null;
  const raw = autocorrelation(piece, most + 1);
  let energy = 0;
  for (const value of piece) energy += value * value;
  if (energy <= 0) return null;
  // Each lag against the energy that overlaps.
  const upTo = new Float64Array(piece.length + 1);
  for (let i = 0; i < piece.length; i++) upTo[i + 1] = upTo[i] + piece[i] * piece[i];
  const at = (lag: number) =>
    ((raw[lag] / raw[0]) * energy) /
    Math.sqrt(Math.max(1e-20, upTo[piece.length - lag] * (energy - upTo[lag])));
  let top = 0;
  for (let lag = SHORTEST_PERIOD; lag <= most; lag++) top = Math.max(top, at(lag));
  if (top < 0.8) return null;
  for (let lag = SHORTEST_PERIOD + 1; lag < most; lag++) {
    const value = at(lag);
    if (value > 0.9 * top && value >= at(lag - 1) && value >= at(lag + 1)) return lag;
  }
  return null;
}
