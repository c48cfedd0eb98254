import { FRAME_RATE, type OnsetFeatures } from './onsetFeatures';

/** What is seen at each beat; one value per beat in every array. */
export interface BeatEvidence {
  low: Float64Array;
  mid: Float64Array;
  high: Float64Array;
  strength: Float64Array;
  /** Harmony after the beat against harmony before it, 0 (same) … 1. */
  harmonicChange: Float64Array;
  /** The same over two beats on each side. */
  broadHarmonicChange: Float64Array;
}

/** Chroma over time: `frames` rows of 12 pitch classes. */
export interface ChromaFrames {
  frameRate: number;
  frames: number;
  values: Float32Array;
}

const REACH_FRAMES = 4;

/** Gathers the evidence at `beats` (seconds, rising). */
export function beatEvidence(
  features: OnsetFeatures,
  chroma: ChromaFrames,
  beats: ArrayLike<number>,
): BeatEvidence {
  const count = beats.length;
  const at = (register: Float32Array) =>
    Float64Array.from({ length: count }, (_, k) => strongestNear(register, beats[k], REACH_FRAMES));
  return {
    low: at(features.low),
    mid: at(features.mid),
    high: at(features.high),
    strength: at(features.strength),
    harmonicChange: harmonicChangeAt(chroma, beats, 1),
    broadHarmonicChange: harmonicChangeAt(chroma, beats, 2),
  };
}

/** Harmony over `span` beats after each beat against that over as many before it: 0 (same) … 1. */
export function harmonicChangeAt(chroma: ChromaFrames, beats: ArrayLike<number>, span: number): Float64Array {
  const segment = (k: number) => meanChroma(chroma, timeOfBeat(beats, k), timeOfBeat(beats, k + span));
  return Float64Array.from({ length: beats.length }, (_, k) => 1 - cosine(segment(k - span), segment(k)));
}

/** Largest value within `reach` frames of a time. */
export function strongestNear(register: Float32Array, time: number, reach: number): number {
  const centre = Math.round(time * FRAME_RATE);
  let best = 0;
  for (let i = Math.max(0, centre - reach); i <= Math.min(register.length - 1, centre + reach); i++) {
    if (register[i] > best) best = register[i];
  }
  return best;
}

function timeOfBeat(beats: ArrayLike<number>, k: number): number {
  if (k < 0) return beats[0] + k * (beats[1] - beats[0]);
  const last = beats.length - 1;
  return k <= last ? beats[k] : beats[last] + (k - last) * (beats[last] - beats[last - 1]);
}

function meanChroma(chroma: ChromaFrames, from: number, to: number): Float64Array {
  const sum = new Float64Array(12);
  const first = Math.max(0, Math.round(from * chroma.frameRate + 0.3));
  const last = Math.min(chroma.frames, Math.max(first + 1, Math.round(to * chroma.frameRate - 0.3)));
  for (let f = first; f < last; f++) for (let p = 0; p < 12; p++) sum[p] += chroma.values[f * 12 + p];
  return sum;
}

function cosine(a: Float64Array, b: Float64Array): number {
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < a.length; i++) {
    ab += a[i] * b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 1;
}
