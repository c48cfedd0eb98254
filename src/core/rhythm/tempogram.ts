import { autocorrelation } from '../signal/fft';
import { FRAME_RATE } from './onsetFeatures';

/** How often, in BPM, beats are looked for at all; felt tempi lie well inside. */
export const SLOWEST_BPM = 38;
export const FASTEST_BPM = 300;
const WINDOW_SECONDS = 14;
const MAX_LAG = Math.ceil((60 / SLOWEST_BPM) * 4.2 * FRAME_RATE);

/** Periodicity of the onset evidence: `at(lagSeconds)` is the normalised autocorrelation, about −0.2 … 1. */
export interface Periodicity {
  at(lagSeconds: number): number;
  /** Magnitude of the evidence's spectrum at 1/period, normalised so that noise gives about 1. */
  fourierAt(periodSeconds: number): number;
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
  const weight = new Float64Array(maxLag + 1);
  const windows: Float64Array[] = [];
  const hop = Math.max(1, Math.floor(window / 2));
  for (let start = 0; start + window <= evidence.length; start += hop) {
    const part = centred(evidence, start, start + window);
    windows.push(part);
    const acf = autocorrelation(part, maxLag);
    if (acf[0] <= 1e-9) continue;
    for (let lag = 0; lag <= maxLag; lag++) {
      const overlap = (window - lag) / window;
      // Lags with little overlap say little: their estimate is drawn to zero.
      sum[lag] += acf[lag] / acf[0] / Math.max(overlap, 0.35);
      weight[lag] += 1;
    }
  }
  for (let lag = 0; lag <= maxLag; lag++) if (weight[lag] > 0) sum[lag] /= weight[lag];

  return {
    at(lagSeconds) {
      const lag = lagSeconds * FRAME_RATE;
      const i = Math.floor(lag);
      if (i + 1 > maxLag) return 0;
      return sum[i] + (lag - i) * (sum[i + 1] - sum[i]);
    },
    fourierAt(periodSeconds) {
      const omega = (2 * Math.PI) / (periodSeconds * FRAME_RATE);
      let total = 0;
      for (const part of windows) {
        let re = 0;
        let im = 0;
        let power = 0;
        const stepR = Math.cos(omega);
        const stepI = Math.sin(omega);
        let c = 1;
        let s = 0;
        for (let n = 0; n < part.length; n++) {
          re += part[n] * c;
          im += part[n] * s;
          power += part[n] * part[n];
          const next = c * stepR - s * stepI;
          s = c * stepI + s * stepR;
          c = next;
        }
        if (power > 0) total += Math.sqrt((re * re + im * im) / power);
      }
      return windows.length ? total / windows.length : 0;
    },
  };
}

function centred(x: Float32Array, from: number, to: number): Float64Array {
  const part = Float64Array.from(x.subarray(from, to), (value) => Math.min(Math.sqrt(value), 3.5));
  let mean = 0;
  for (const value of part) mean += value;
  mean /= part.length;
  for (let i = 0; i < part.length; i++) part[i] -= mean;
  return part;
}
