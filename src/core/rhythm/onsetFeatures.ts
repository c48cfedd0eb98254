import { hannWindow, realFft } from '../signal/fft';
import { createFramer } from '../signal/framer';
import { growingArray } from '../signal/growingArray';
import { kernels, roomForCounts, roomForFloats } from '../signal/kernels';

/** Sample rate of the mono mix that all measuring works on. */
export const ANALYSIS_RATE = 22050;
/** Frames per second of the onset evidence; frame i is centred on i / FRAME_RATE seconds. */
export const FRAME_RATE = 100;

const WINDOW = 1024;
const BANDS = 36;
const LOWEST_HZ = 30;
const HIGHEST_HZ = 10000;
/** Upper edges of the registers: kick and bass; shells and low chords; snare and voices; cymbals and consonants. */
const REGISTER_EDGES_HZ = [160, 800, 3500, Infinity];
export const REGISTERS = REGISTER_EDGES_HZ.length;
/** Magnitudes are compared over this many frames: attacks are complete, decays have hardly begun. */
const LAG_FRAMES = 2;
/** Level over which a band's magnitude is compressed: relative to the mean magnitude of the recording. */
const COMPRESSION = 3;

// What one frame is worked out in, for all listeners.
const frame = roomForFloats(WINDOW);
const window = roomForFloats(WINDOW);
const spectrum = roomForFloats(WINDOW);
const bandStarts = roomForCounts(BANDS + 1);
const powers = roomForFloats(BANDS);
const { starts, centres } = bandLayout();
window.values.set(hannWindow(WINDOW));
bandStarts.values.set(starts);

/** Onset evidence, each register scaled to a mean of about 1 over its surroundings. */
export interface OnsetFeatures {
  frames: number;
  /** From low to high, REGISTERS of them. */
  registers: Float32Array[];
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
 * so that vibrato does not count as an onset (Böck & Widmer 2013), summed in registers and divided by its
 * local mean. Push the mono mix at ANALYSIS_RATE block by block; per second 14 kB of band magnitudes are held.
 */
export function onsetFeatureBuilder() {
  const fft = realFft(WINDOW);
  const bands = growingArray();
  const levels = growingArray();
  const row = new Float32Array(BANDS);
  const level = new Float32Array(1);
  let total = 0;
  let energySum = 0;
  let centroidSum = 0;
  let flatnessSum = 0;

  const framer = createFramer(WINDOW, ANALYSIS_RATE / FRAME_RATE, (samples, from) => {
    frame.values.set(samples.subarray(from, from + WINDOW));
    const any = kernels.windowed(frame.address, window.address, frame.address, WINDOW);
    level[0] = 10 * Math.log10(any / (WINDOW * 0.375) + 1e-12);
    levels.append(level);
    if (any < 1e-12) {
      row.fill(0);
      bands.append(row);
      return;
    }
    fft.input.set(frame.values);
    spectrum.values.set(fft.forward());
    kernels.bandPowers(spectrum.address, bandStarts.address, powers.address, BANDS);
    let power = 0;
    let weighted = 0;
    let product = 1;
    let logs = 0;
    for (let b = 0; b < BANDS; b++) {
      const sum = powers.values[b];
      const magnitude = Math.sqrt(sum);
      row[b] = magnitude;
      total += magnitude;
      power += sum;
      weighted += sum * centres[b];
      product *= sum + 1e-12;
      if ((b & 7) === 7 || b === BANDS - 1) {
        logs += Math.log(product);
        product = 1;
      }
    }
    bands.append(row);
    energySum += power;
    centroidSum += weighted;
    flatnessSum += power * Math.min(1, Math.exp(logs / BANDS) / (power / BANDS + 1e-12));
  });

  return {
    push: (block: Float32Array) => framer.push(block),
    finish(): OnsetFeatures {
      const frames = framer.finish();
      const norm = Math.max(energySum, 1e-12);
      const registers = rises(bands.view(), frames, total, centres);
      for (const register of registers) normaliseLocally(register);
      const strength = new Float32Array(frames);
      for (let i = 0; i < frames; i++) {
        let sum = 0;
        for (const register of registers) sum += register[i];
        strength[i] = sum / REGISTERS;
      }
      return {
        frames,
        registers,
        strength,
        levelDb: levels.view(),
        centroidHz: centroidSum / norm,
        flatness: flatnessSum / norm,
      };
    },
  };
}

function rises(bands: Float32Array, frames: number, total: number, centres: Float64Array): Float32Array[] {
  const registers = REGISTER_EDGES_HZ.map(() => new Float32Array(frames));
  if (total <= 0) return registers;
  const scale = (COMPRESSION * frames * BANDS) / total;
  for (let i = 0; i < bands.length; i++) bands[i] = Math.log1p(bands[i] * scale);
  const registerOf = Array.from(centres, (hz) => REGISTER_EDGES_HZ.findIndex((edge) => hz < edge));
  for (let i = LAG_FRAMES; i < frames; i++) {
    const now = i * BANDS;
    const past = (i - LAG_FRAMES) * BANDS;
    for (let b = 0; b < BANDS; b++) {
      let before = bands[past + b];
      if (b > 0 && bands[past + b - 1] > before) before = bands[past + b - 1];
      if (b < BANDS - 1 && bands[past + b + 1] > before) before = bands[past + b + 1];
      const rise = bands[now + b] - before;
      if (rise > 0) registers[registerOf[b]][i] += rise;
    }
  }
  return registers;
}

/** Bands equally spaced on the mel scale (O'Shaughnessy 1987), at least one bin wide: first bins and centres. */
function bandLayout() {
  const mel = (hz: number) => 1127 * Math.log(1 + hz / 700);
  const hz = (m: number) => 700 * (Math.exp(m / 1127) - 1);
  const binHz = ANALYSIS_RATE / WINDOW;
  const from = mel(LOWEST_HZ);
  const step = (mel(HIGHEST_HZ) - from) / BANDS;
  const starts = new Uint32Array(BANDS + 1);
  for (let b = 0; b <= BANDS; b++) {
    const bin = Math.round(hz(from + b * step) / binHz);
    starts[b] = b === 0 ? Math.max(1, bin) : Math.max(starts[b - 1] + 1, bin);
  }
  const centres = Float64Array.from(
    { length: BANDS },
    (_, b) => ((starts[b] + starts[b + 1] - 1) / 2) * binHz,
  );
  return { starts, centres };
}

/** Divides by the mean over ±4 s, with half the mean over the recording as a floor, so that quiet parts count less. */
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
