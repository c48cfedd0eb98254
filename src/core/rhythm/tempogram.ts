import { autocorrelation, realFft } from '../signal/fft';
import { FRAME_RATE } from './onsetFeatures';

/** How often, in BPM, beats are looked for at all; felt tempi lie well inside. */
export const SLOWEST_BPM = 38;
export const FASTEST_BPM = 300;
const WINDOW_SECONDS = 14;
const MAX_LAG = Math.ceil((60 / SLOWEST_BPM) * 4.2 * FRAME_RATE);
const SPECTRUM_SIZE = 8192;

/** Periodicity of the onset evidence. */
export interface Periodicity {
  /** Normalised autocorrelation at a lag in seconds, about −0.2 … 1. */
  at(lagSeconds: number): number;
  /** Magnitude of the evidence's spectrum at 1/period, normalised so that noise gives about 1. */
  fourierAt(periodSeconds: number): number;
  /** The same over the recording as a whole: sharp for what is steady, low for what moves. */
  wholeAt(periodSeconds: number): number;
}

/**
 * Autocorrelation over windows (so that slow drift does not blur it), averaged, and the Fourier magnitude
 * of the same windows: the first has false peaks at multiples of the period, the second at fractions
 * (Peeters 2007).
 */
export function periodicity(evidence: Float32Array): Periodicity {
  const window = Math.min(evidence.length, WINDOW_SECONDS * FRAME_RATE);
  const maxLag = Math.min(MAX_LAG, Math.max(1, window - 1));
  const sum = new Float64Array(maxLag + 1);
  const spectrum = new Float64Array(SPECTRUM_SIZE / 2 + 1);
  let weight = 0;
  const hop = Math.max(1, Math.floor(window / 2));
  for (let start = 0; start + window <= evidence.length; start += hop) {
    const part = centred(evidence, start, start + window);
    const acf = autocorrelation(part, maxLag);
    if (acf[0] <= 1e-9) continue;
    weight++;
    for (let lag = 0; lag <= maxLag; lag++) {
      const overlap = (window - lag) / window;
      // Lags with little overlap say little: their estimate is drawn to zero.
      sum[lag] += acf[lag] / acf[0] / Math.max(overlap, 0.35);
    }
    addMagnitudes(spectrum, part, SPECTRUM_SIZE, 1 / Math.sqrt(acf[0]));
  }
  if (weight > 0) {
    for (let lag = 0; lag <= maxLag; lag++) sum[lag] /= weight;
    for (let k = 0; k < spectrum.length; k++) spectrum[k] /= weight;
  }
  const all = centred(evidence, 0, evidence.length);
  let wholeSize = SPECTRUM_SIZE;
  while (wholeSize < 4 * all.length) wholeSize *= 2;
  const whole = new Float64Array(wholeSize / 2 + 1);
  let power = 0;
  for (const value of all) power += value * value;
  if (power > 1e-9) addMagnitudes(whole, all, wholeSize, 1 / Math.sqrt(power));
  return {
    at: (lagSeconds) => between(sum, lagSeconds * FRAME_RATE),
    fourierAt: (periodSeconds) => between(spectrum, SPECTRUM_SIZE / (periodSeconds * FRAME_RATE)),
    wholeAt: (periodSeconds) => between(whole, wholeSize / (periodSeconds * FRAME_RATE)),
  };
}

/** Linear interpolation; 0 beyond the end. */
function between(x: Float64Array, position: number): number {
  const i = Math.floor(position);
  return i + 1 < x.length ? x[i] + (position - i) * (x[i + 1] - x[i]) : 0;
}

function addMagnitudes(into: Float64Array, part: Float64Array, size: number, scale: number) {
  const fft = realFft(size);
  fft.input.fill(0);
  fft.input.set(part);
  const spectrum = fft.forward();
  for (let k = 1; k < size / 2; k++)
    into[k] += scale * Math.sqrt(spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2);
}

function centred(x: Float32Array, from: number, to: number): Float64Array {
  const part = new Float64Array(to - from);
  let mean = 0;
  for (let i = from; i < to; i++) mean += part[i - from] = Math.min(Math.sqrt(x[i]), 3.5);
  mean /= part.length;
  for (let i = 0; i < part.length; i++) part[i] -= mean;
  return part;
}
