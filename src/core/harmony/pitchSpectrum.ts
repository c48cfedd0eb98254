import { hannWindow, realFft } from '../signal/fft';

/** Tonal peaks of a recording: for frame f, entries `starts[f]` … `starts[f + 1] − 1` of `midi` and `weight`. */
export interface PitchPeaks {
  frameRate: number;
  frames: number;
  starts: Uint32Array;
  /** Fractional MIDI note number of each peak at A4 = 440 Hz. */
  midi: Float32Array;
  /** Compressed magnitude of the peak. */
  weight: Float32Array;
  /** Share of each frame's energy (55 Hz – 2.2 kHz) that stands in stable peaks, 0 … 1. */
  tonalness: Float32Array;
  /** Energy of each frame in that range. */
  energy: Float32Array;
}

/** Rate of the mono mix that harmony is measured on. */
export const HARMONY_RATE = 11025;
const WINDOW = 4096;
const HOP = 1024;
const LOWEST_HZ = 52;
const HIGHEST_HZ = 2200;
/** Median filter lengths that part lasting tones from hits (Fitzgerald 2010): frames and bins. */
const TIME_MEDIAN = 7;
const BIN_MEDIAN = 15;

/**
 * Spectral peaks that last: a magnitude spectrogram is masked where its median over time does not exceed
 * its median over frequency (harmonic–percussive separation, Fitzgerald 2010), local maxima of the rest
 * are placed by parabolic interpolation of the log magnitude. `mono` is at HARMONY_RATE.
 */
export function pitchPeaks(mono: Float32Array): PitchPeaks {
  const firstBin = Math.floor((LOWEST_HZ * WINDOW) / HARMONY_RATE);
  const lastBin = Math.ceil((HIGHEST_HZ * WINDOW) / HARMONY_RATE);
  const bins = lastBin - firstBin + 1;
  const frames = Math.max(1, Math.ceil(mono.length / HOP));
  const fft = realFft(WINDOW);
  const window = hannWindow(WINDOW);
  const input = new Float64Array(WINDOW);
  const re = new Float64Array(WINDOW / 2 + 1);
  const im = new Float64Array(WINDOW / 2 + 1);

  // Only the frames that the time median needs are held.
  const ring = Array.from({ length: TIME_MEDIAN }, () => new Float32Array(bins));
  const computeFrame = (f: number) => {
    const out = ring[f % TIME_MEDIAN];
    const start = f * HOP - WINDOW / 2;
    let any = false;
    for (let n = 0; n < WINDOW; n++) {
      const value = start + n >= 0 && start + n < mono.length ? mono[start + n] * window[n] : 0;
      input[n] = value;
      if (value !== 0) any = true;
    }
    if (!any) {
      out.fill(0);
      return;
    }
    fft.forward(input, re, im);
    for (let b = 0; b < bins; b++) out[b] = Math.hypot(re[firstBin + b], im[firstBin + b]);
  };

  const reach = TIME_MEDIAN >> 1;
  const midi: number[] = [];
  const weight: number[] = [];
  const starts = new Uint32Array(frames + 1);
  const tonalness = new Float32Array(frames);
  const energy = new Float32Array(frames);
  const overTime = new Float32Array(TIME_MEDIAN);
  const overBins = new Float32Array(BIN_MEDIAN);
  for (let f = 0; f < Math.min(reach, frames); f++) computeFrame(f);
  for (let f = 0; f < frames; f++) {
    if (f + reach < frames) computeFrame(f + reach);
    const current = ring[f % TIME_MEDIAN];
    let total = 0;
    let tonal = 0;
    for (let b = 0; b < bins; b++) total += current[b] * current[b];
    energy[f] = total;
    if (total > 1e-9) {
      for (let b = 1; b < bins - 1; b++) {
        const m = current[b];
        if (m <= current[b - 1] || m < current[b + 1]) continue;
        let count = 0;
        for (let g = Math.max(0, f - reach); g <= Math.min(frames - 1, f + reach); g++)
          overTime[count++] = ring[g % TIME_MEDIAN][b];
        const harmonic = medianOf(overTime, count);
        count = 0;
        for (let c = Math.max(0, b - (BIN_MEDIAN >> 1)); c <= Math.min(bins - 1, b + (BIN_MEDIAN >> 1)); c++)
          overBins[count++] = current[c];
        const percussive = medianOf(overBins, count);
        if (harmonic < 2 * percussive || m * m < 1e-6 * total) continue;
        const left = Math.log(current[b - 1] + 1e-9);
        const centre = Math.log(m + 1e-9);
        const right = Math.log(current[b + 1] + 1e-9);
        const shift = (0.5 * (left - right)) / (left - 2 * centre + right || 1);
        const hz = ((firstBin + b + shift) * HARMONY_RATE) / WINDOW;
        midi.push(69 + 12 * Math.log2(hz / 440));
        const kept = Math.min(m, harmonic * 1.5);
        weight.push(kept);
        tonal += kept * kept + current[b - 1] ** 2 + current[b + 1] ** 2;
      }
      tonalness[f] = Math.min(1, tonal / total);
    }
    starts[f + 1] = midi.length;
  }
  return {
    frameRate: HARMONY_RATE / HOP,
    frames,
    starts,
    midi: Float32Array.from(midi),
    weight: Float32Array.from(weight),
    tonalness,
    energy,
  };
}

/** Median of the first `count` values; sorts them in place. */
function medianOf(x: Float32Array, count: number): number {
  for (let i = 1; i < count; i++) {
    const value = x[i];
    let j = i - 1;
    while (j >= 0 && x[j] > value) {
      x[j + 1] = x[j];
      j--;
    }
    x[j + 1] = value;
  }
  return x[count >> 1];
}
