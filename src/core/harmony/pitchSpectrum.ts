import { middleInPlace } from '../math/median';
import { hannWindow, realFft } from '../signal/fft';
import { createFramer } from '../signal/framer';
import { kernels, roomForFloats } from '../signal/kernels';

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
  /**
   * Peaks under that range, over the whole recording: deep drums and sub basses, which say nothing of a key.
   * `tonal` and `energy` are sums over all frames, comparable with `tonalness · energy`.
   */
  low: { midi: Float32Array; weight: Float32Array; tonal: number; energy: number };
}

/** Rate of the mono mix that harmony is measured on. */
export const HARMONY_RATE = 11025;
const WINDOW = 4096;
const HOP = 1024;
const DEEPEST_HZ = 24;
const LOWEST_HZ = 52;
const HIGHEST_HZ = 2200;
/** Median filter lengths that part lasting tones from hits (Fitzgerald 2010): frames and bins. */
const TIME_MEDIAN = 7;
const BIN_MEDIAN = 15;

const firstBin = Math.floor((DEEPEST_HZ * WINDOW) / HARMONY_RATE);
const edge = Math.floor((LOWEST_HZ * WINDOW) / HARMONY_RATE) - firstBin;
const lastBin = Math.ceil((HIGHEST_HZ * WINDOW) / HARMONY_RATE);
const bins = lastBin - firstBin + 1;
// What one frame is worked out in, for all listeners.
const frame = roomForFloats(WINDOW);
const window = roomForFloats(WINDOW);
const spectrum = roomForFloats(2 * bins);
const magnitudes = roomForFloats(bins);
window.values.set(hannWindow(WINDOW));

/**
 * Spectral peaks that last: a magnitude spectrogram is masked where its median over time does not exceed
 * its median over frequency (harmonic–percussive separation, Fitzgerald 2010), local maxima of the rest
 * are placed by parabolic interpolation of the log magnitude. Push the mono mix at HARMONY_RATE block by
 * block; only the frames that the time median needs are held.
 */
export function pitchPeakBuilder() {
  const fft = realFft(WINDOW);
  const reach = TIME_MEDIAN >> 1;
  const ring = Array.from({ length: TIME_MEDIAN }, () => new Float32Array(bins));
  const midi: number[] = [];
  const weight: number[] = [];
  const starts: number[] = [0];
  const tonalness: number[] = [];
  const energy: number[] = [];
  const lowMidi: number[] = [];
  const lowWeight: number[] = [];
  let lowTonal = 0;
  let lowEnergy = 0;
  const overTime = new Float32Array(TIME_MEDIAN);

  /** Finds the peaks of frame f; frames up to `last` are in the ring. */
  const findPeaks = (f: number, last: number) => {
    const current = ring[f % TIME_MEDIAN];
    let total = 0;
    let tonal = 0;
    let deep = 0;
    for (let b = 0; b < edge; b++) deep += current[b] * current[b];
    for (let b = edge; b < bins; b++) total += current[b] * current[b];
    lowEnergy += deep;
    if (total + deep > 1e-9) {
      const least = Math.sqrt(1e-6 * total);
      const leastLow = Math.sqrt(1e-6 * (total + deep));
      for (let b = 1; b < bins - 1; b++) {
        const m = current[b];
        const isLow = b <= edge;
        if (m < (isLow ? leastLow : least) || m <= current[b - 1] || m < current[b + 1]) continue;
        let count = 0;
        for (let g = Math.max(0, f - reach); g <= Math.min(last, f + reach); g++)
          overTime[count++] = ring[g % TIME_MEDIAN][b];
        const harmonic = middleInPlace(overTime, count);
        // Whether the median over bins is at most half of it: half of the values are. No need to sort them.
        const from = Math.max(isLow ? 0 : edge, b - (BIN_MEDIAN >> 1));
        const to = Math.min(bins - 1, b + (BIN_MEDIAN >> 1));
        let quieter = 0;
        for (let c = from; c <= to; c++) if (current[c] <= 0.5 * harmonic) quieter++;
        if (quieter <= (to - from + 1) >> 1) continue;
        const left = Math.log(current[b - 1] + 1e-9);
        const centre = Math.log(m + 1e-9);
        const right = Math.log(current[b + 1] + 1e-9);
        const shift = (0.5 * (left - right)) / (left - 2 * centre + right || 1);
        const hz = ((firstBin + b + shift) * HARMONY_RATE) / WINDOW;
        const kept = Math.min(m, harmonic * 1.5);
        const power = kept * kept + current[b - 1] ** 2 + current[b + 1] ** 2;
        (isLow ? lowMidi : midi).push(69 + 12 * Math.log2(hz / 440));
        (isLow ? lowWeight : weight).push(kept);
        if (isLow) lowTonal += power;
        else tonal += power;
      }
    }
    energy.push(total);
    tonalness.push(total > 1e-9 ? Math.min(1, tonal / total) : 0);
    starts.push(midi.length);
  };

  const framer = createFramer(WINDOW, HOP, (samples, from, f) => {
    frame.values.set(samples.subarray(from, from + WINDOW));
    kernels.windowed(frame.address, window.address, frame.address, WINDOW);
    fft.input.set(frame.values);
    spectrum.values.set(fft.forward().subarray(2 * firstBin, 2 * (firstBin + bins)));
    kernels.magnitudes(spectrum.address, magnitudes.address, bins);
    ring[f % TIME_MEDIAN].set(magnitudes.values);
    if (f >= reach) findPeaks(f - reach, f);
  });

  return {
    push: (block: Float32Array) => framer.push(block),
    finish(): PitchPeaks {
      const frames = framer.finish();
      for (let f = Math.max(0, frames - reach); f < frames; f++) findPeaks(f, frames - 1);
      return {
        frameRate: HARMONY_RATE / HOP,
        frames,
        starts: Uint32Array.from(starts),
        midi: Float32Array.from(midi),
        weight: Float32Array.from(weight),
        tonalness: Float32Array.from(tonalness),
        energy: Float32Array.from(energy),
        low: {
          midi: Float32Array.from(lowMidi),
          weight: Float32Array.from(lowWeight),
          tonal: Math.min(lowTonal, lowEnergy),
          energy: lowEnergy,
        },
      };
    },
  };
}

/** Share of all energy (55 Hz – 2.2 kHz) that stands in stable peaks: nought for drums, near one for tones alone. */
export function tonalShare(peaks: PitchPeaks): number {
  const { tonal, energy } = tonalSums(peaks);
  return energy > 0 ? tonal / energy : 0;
}

/** Energy over all frames, and how much of it stands in stable peaks. */
export function tonalSums({ tonalness, energy, frames }: PitchPeaks): { tonal: number; energy: number } {
  let tonal = 0;
  let all = 0;
  for (let f = 0; f < frames; f++) {
    tonal += tonalness[f] * energy[f];
    all += energy[f];
  }
  return { tonal, energy: all };
}
