import { hannWindow, realFft } from '../signal/fft';

/** Sample rate of the mono mix that all measuring works on. */
export const ANALYSIS_RATE = 22050;
/** Frames per second of the onset evidence; frame i is centred on i / FRAME_RATE seconds. */
export const FRAME_RATE = 100;

const WINDOW = 1024;
const BANDS = 32;
const LOWEST_HZ = 30;
const HIGHEST_HZ = 10000;
/** Band edges of the three registers: kick and bass, snare and voices, cymbals and consonants. */
const LOW_BELOW_HZ = 190;
const HIGH_ABOVE_HZ = 2800;
/** Magnitudes are compared over this many frames: attacks are complete, decays have hardly begun. */
const LAG_FRAMES = 2;
/** Level over which a band's magnitude is compressed: relative to the mean magnitude of the recording. */
const COMPRESSION = 12;

/** Onset evidence in three registers, each scaled to a mean of about 1 over its surroundings. */
export interface OnsetFeatures {
  frames: number;
  low: Float32Array;
  mid: Float32Array;
  high: Float32Array;
  /** The registers together. */
  strength: Float32Array;
  /** Level of each frame, dB relative to full scale. */
  levelDb: Float32Array;
  /** Energy-weighted mean of the spectral centroid over the recording, Hz. */
  centroidHz: number;
  /** Energy-weighted ratio of the geometric to the arithmetic mean over the bands, 0 … 1. */
  flatness: number;
}

/**
 * Rise of log-compressed band magnitudes against a past that is maximum-filtered over neighbouring bands,
 * so that vibrato does not count as an onset (Böck & Widmer 2013), summed in three registers and divided
 * by its local mean. `mono` is at ANALYSIS_RATE.
 */
export function onsetFeatures(mono: Float32Array): OnsetFeatures {
  const frames = Math.max(1, Math.floor((mono.length / ANALYSIS_RATE) * FRAME_RATE) + 1);
  const { bands, levelDb, centroidHz, flatness } = bandMagnitudes(mono, frames);
  const low = new Float32Array(frames);
  const mid = new Float32Array(frames);
  const high = new Float32Array(frames);
  const centres = bandCentres();
  for (let i = LAG_FRAMES; i < frames; i++) {
    const now = i * BANDS;
    const past = (i - LAG_FRAMES) * BANDS;
    for (let b = 0; b < BANDS; b++) {
      const before = Math.max(
        bands[past + b],
        bands[past + Math.max(0, b - 1)],
        bands[past + Math.min(BANDS - 1, b + 1)],
      );
      const rise = bands[now + b] - before;
      if (rise <= 0) continue;
      if (centres[b] < LOW_BELOW_HZ) low[i] += rise;
      else if (centres[b] < HIGH_ABOVE_HZ) mid[i] += rise;
      else high[i] += rise;
    }
  }
  const strength = new Float32Array(frames);
  for (const register of [low, mid, high]) normaliseLocally(register);
  for (let i = 0; i < frames; i++) strength[i] = (low[i] + mid[i] + high[i]) / 3;
  return { frames, low, mid, high, strength, levelDb, centroidHz, flatness };
}

function bandCentres(): number[] {
  const edges = bandEdges();
  return Array.from({ length: BANDS }, (_, b) => edges[b + 1]);
}

/** Equally spaced on the mel scale (O'Shaughnessy 1987). */
function bandEdges(): number[] {
  const mel = (hz: number) => 1127 * Math.log(1 + hz / 700);
  const hz = (m: number) => 700 * (Math.exp(m / 1127) - 1);
  const from = mel(LOWEST_HZ);
  const step = (mel(HIGHEST_HZ) - from) / (BANDS + 1);
  return Array.from({ length: BANDS + 2 }, (_, i) => hz(from + i * step));
}

function bandMagnitudes(mono: Float32Array, frames: number) {
  const fft = realFft(WINDOW);
  const window = hannWindow(WINDOW);
  const input = new Float64Array(WINDOW);
  const re = new Float64Array(WINDOW / 2 + 1);
  const im = new Float64Array(WINDOW / 2 + 1);
  const magnitude = new Float64Array(WINDOW / 2 + 1);
  const bands = new Float32Array(frames * BANDS);
  const levelDb = new Float32Array(frames);
  const triangles = bandTriangles();
  let total = 0;
  const centres = bandCentres();
  let energySum = 0;
  let centroidSum = 0;
  let flatnessSum = 0;
  for (let i = 0; i < frames; i++) {
    const start = Math.round((i * ANALYSIS_RATE) / FRAME_RATE) - WINDOW / 2;
    let energy = 0;
    for (let n = 0; n < WINDOW; n++) {
      const value = start + n >= 0 && start + n < mono.length ? mono[start + n] * window[n] : 0;
      input[n] = value;
      energy += value * value;
    }
    levelDb[i] = 10 * Math.log10(energy / (WINDOW * 0.375) + 1e-12);
    if (energy < 1e-12) continue;
    fft.forward(input, re, im);
    for (let k = 0; k <= WINDOW / 2; k++) magnitude[k] = Math.sqrt(re[k] * re[k] + im[k] * im[k]);
    let power = 0;
    let weighted = 0;
    let logs = 0;
    for (let b = 0; b < BANDS; b++) {
      const { from, weights } = triangles[b];
      let sum = 0;
      for (let k = 0; k < weights.length; k++) sum += weights[k] * magnitude[from + k];
      bands[i * BANDS + b] = sum;
      total += sum;
      power += sum * sum;
      weighted += sum * sum * centres[b];
      logs += Math.log(sum * sum + 1e-12);
    }
    energySum += power;
    centroidSum += weighted;
    flatnessSum += power * Math.min(1, Math.exp(logs / BANDS) / (power / BANDS + 1e-12));
  }
  const scale = total > 0 ? (COMPRESSION * frames * BANDS) / total / 4 : 0;
  for (let i = 0; i < bands.length; i++) bands[i] = Math.log1p(bands[i] * scale);
  const norm = Math.max(energySum, 1e-12);
  return { bands, levelDb, centroidHz: centroidSum / norm, flatness: flatnessSum / norm };
}

function bandTriangles() {
  const edges = bandEdges();
  const binHz = ANALYSIS_RATE / WINDOW;
  return Array.from({ length: BANDS }, (_, b) => {
    const from = Math.max(1, Math.floor(edges[b] / binHz));
    const to = Math.max(from + 1, Math.ceil(edges[b + 2] / binHz));
    const weights = new Float64Array(to - from + 1);
    let sum = 0;
    for (let k = from; k <= to; k++) {
      const hz = k * binHz;
      const up = (hz - edges[b]) / (edges[b + 1] - edges[b]);
      const down = (edges[b + 2] - hz) / (edges[b + 2] - edges[b + 1]);
      const weight = Math.max(0, Math.min(up, down));
      weights[k - from] = weight;
      sum += weight;
    }
    if (sum === 0) {
      weights[0] = 1;
      sum = 1;
    }
    for (let k = 0; k < weights.length; k++) weights[k] /= sum;
    return { from, weights };
  });
}

/** Divides by the mean over ±4 s, with the mean over the recording as a floor, so that quiet parts count less. */
function normaliseLocally(x: Float32Array) {
  const reach = 4 * FRAME_RATE;
  const prefix = new Float64Array(x.length + 1);
  for (let i = 0; i < x.length; i++) prefix[i + 1] = prefix[i] + x[i];
  const overall = prefix[x.length] / x.length;
  if (overall <= 0) return;
  for (let i = 0; i < x.length; i++) {
    const from = Math.max(0, i - reach);
    const to = Math.min(x.length, i + reach);
    const local = (prefix[to] - prefix[from]) / (to - from);
    x[i] /= Math.max(local, 0.5 * overall);
  }
}
