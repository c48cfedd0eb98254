import type { ChromaFrames } from '../rhythm/patterns';
import type { PitchPeaks } from './pitchSpectrum';

/** A spectral peak may be the first, second, third … partial of a note: shares of its weight. */
const PARTIAL_SHARES = [1, 0.5, 0.33, 0.25, 0.2];
const PARTIAL_SEMITONES = [0, 12, 19.02, 24, 27.86];
const BASS_BELOW_MIDI = 50;

export interface Chroma {
  /** Pitch classes over time, C first. */
  all: ChromaFrames;
  /** The same for the bass register. */
  bass: ChromaFrames;
}

/**
 * Pitch-class weights over time from tonal peaks at the given tuning: each peak counts for the notes it
 * may be a partial of (harmonic weighting, Gómez 2006), magnitudes are compressed per frame.
 */
export function chromaFrames(peaks: PitchPeaks, tuningCents: number): Chroma {
  const all = new Float32Array(peaks.frames * 12);
  const bass = new Float32Array(peaks.frames * 12);
  for (let f = 0; f < peaks.frames; f++) {
    let loudest = 0;
    for (let i = peaks.starts[f]; i < peaks.starts[f + 1]; i++) loudest = Math.max(loudest, peaks.weight[i]);
    if (loudest === 0) continue;
    const presence = Math.sqrt(loudest);
    for (let i = peaks.starts[f]; i < peaks.starts[f + 1]; i++) {
      const note = peaks.midi[i] - tuningCents / 100;
      const value = presence * Math.sqrt(peaks.weight[i] / loudest);
      for (let h = 0; h < PARTIAL_SHARES.length; h++) {
        const fundamental = note - PARTIAL_SEMITONES[h];
        if (fundamental < 28) break;
        const nearest = Math.round(fundamental);
        const closeness = Math.cos(Math.PI * (fundamental - nearest)) ** 2;
        all[f * 12 + (nearest % 12)] += value * PARTIAL_SHARES[h] * closeness;
      }
      if (note < BASS_BELOW_MIDI) {
        const nearest = Math.round(note);
        bass[f * 12 + (nearest % 12)] += value * Math.cos(Math.PI * (note - nearest)) ** 2;
      }
    }
  }
  const frame = (values: Float32Array): ChromaFrames => ({
    frameRate: peaks.frameRate,
    frames: peaks.frames,
    values,
  });
  return { all: frame(all), bass: frame(bass) };
}

/** Sum over time between two times in seconds, scaled to a sum of 1 (or all 0). */
export function totalChroma(chroma: ChromaFrames, from = 0, to = Infinity): Float64Array {
  const sum = new Float64Array(12);
  const first = Math.max(0, Math.floor(from * chroma.frameRate));
  const last = Math.min(chroma.frames, Math.ceil(to * chroma.frameRate));
  for (let f = first; f < last; f++) {
    for (let p = 0; p < 12; p++) sum[p] += chroma.values[f * 12 + p];
  }
  const total = sum.reduce((a, b) => a + b, 0);
  return total > 0 ? sum.map((value) => value / total) : sum;
}
