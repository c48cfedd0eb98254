import { totalChroma, type Chroma } from './chroma';
import { ALL_KEYS, type Key } from './keyNames';
import type { PitchPeaks } from './pitchSpectrum';

export interface RankedKey extends Key {
  /** Share of belief among the 24 keys, 0 … 1. */
  sureness: number;
}

export interface KeyEstimate {
  /** Best first; the five that matter. Empty when the recording has no key. */
  ranked: RankedKey[];
  /** How much of the sound is lasting tone in a scale, 0 … 1; below TONAL_ENOUGH there is "no key". */
  tonality: number;
}

/** Below this there is no key to speak of. Drums on the demo material reach 0.2, a lone melody 0.6. */
export const TONAL_ENOUGH = 0.35;

/** Probe-tone profiles revised for audio (Temperley 2001 for the shape, sharpened thirds and leading notes). */
const PROFILES = {
  major: [5, 2, 3.5, 2, 4.5, 4, 2, 4.5, 2, 3.5, 1.5, 4],
  minor: [5, 2, 3.5, 4.5, 2, 4, 2, 4.5, 3.5, 2, 3, 2.5],
};
const BASS_WEIGHT = 0.3;
const EDGE_WEIGHT = 0.25;
/** Turns correlation into belief: the larger, the surer. */
const SHARPNESS = 14;

/**
 * Ranks keys by correlation of the tuned chroma with key profiles (Krumhansl 1990), helped by the bass
 * register's tonic and by what stands at the beginning and the end.
 */
export function estimateKey(chroma: Chroma, peaks: PitchPeaks): KeyEstimate {
  const seconds = peaks.frames / peaks.frameRate;
  const total = totalChroma(chroma.all);
  const tonality = tonalityOf(peaks, total);
  if (tonality < TONAL_ENOUGH) return { ranked: [], tonality };
  const bass = totalChroma(chroma.bass);
  const edge = Math.min(4, seconds / 4);
  const beginning = totalChroma(chroma.all, 0, edge);
  const ending = totalChroma(chroma.all, seconds - edge);
  const scored = ALL_KEYS.map((key) => {
    const score =
      correlation(total, rotated(PROFILES[key.mode], key.tonic)) +
      BASS_WEIGHT * (bass[key.tonic] + 0.5 * bass[(key.tonic + 7) % 12]) +
      EDGE_WEIGHT * (triadShare(beginning, key) + triadShare(ending, key));
    return { ...key, score };
  }).sort((a, b) => b.score - a.score);
  const beliefs = scored.map((entry) => Math.exp(SHARPNESS * (entry.score - scored[0].score)));
  const sum = beliefs.reduce((a, b) => a + b, 0);
  const ranked = scored
    .slice(0, 5)
    .map(({ tonic, mode }, i) => ({ tonic, mode, sureness: beliefs[i] / sum }));
  return { ranked, tonality };
}

function triadShare(chroma: Float64Array, key: Key): number {
  const third = key.mode === 'major' ? 4 : 3;
  return chroma[key.tonic] + 0.6 * chroma[(key.tonic + third) % 12] + 0.6 * chroma[(key.tonic + 7) % 12];
}

/** Energy-weighted share of lasting peaks, lowered when all twelve pitch classes are alike. */
function tonalityOf(peaks: PitchPeaks, chroma: Float64Array): number {
  let weighted = 0;
  let energy = 0;
  for (let f = 0; f < peaks.frames; f++) {
    const weight = Math.sqrt(peaks.energy[f]);
    weighted += weight * peaks.tonalness[f];
    energy += weight;
  }
  if (energy === 0) return 0;
  let entropy = 0;
  for (const share of chroma) if (share > 0) entropy -= share * Math.log(share);
  const focus = Math.min(1, Math.max(0, (Math.log(12) - entropy) / 0.12));
  return (weighted / energy) * focus;
}

function rotated(profile: number[], tonic: number): number[] {
  return profile.map((_, pitch) => profile[(pitch - tonic + 12) % 12]);
}

function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let meanA = 0;
  let meanB = 0;
  for (let i = 0; i < 12; i++) {
    meanA += a[i] / 12;
    meanB += b[i] / 12;
  }
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < 12; i++) {
    ab += (a[i] - meanA) * (b[i] - meanB);
    aa += (a[i] - meanA) ** 2;
    bb += (b[i] - meanB) ** 2;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}
