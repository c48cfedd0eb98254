import type { ChromaFrames } from '../rhythm/patterns';
import { weighing, type Observed } from '../weights/weights';
import { totalChroma, type Chroma } from './chroma';
import { ALL_KEYS, type Key } from './keyNames';
import type { PitchPeaks } from './pitchSpectrum';

interface RankedKey extends Key {
  /** Share of belief among the 24 keys, 0 … 1. */
  sureness: number;
}

export interface KeyEstimate {
  /** Best first; the five that matter. Empty when the recording has no key. */
  ranked: RankedKey[];
  /** Belief that the sound is tones of a scale at all, 0 … 1; below one half there is "no key". */
  tonality: number;
}

const NOTES = 12;
/** Chords are told apart over this much sound. */
const CHORD_SECONDS = 0.37;

const MODES = ['major', 'minor'] as const;
/** What is seen of each distance from the tonic. */
const SEEN = ['all', 'bass', 'begin', 'end', 'majorTriad', 'minorTriad'] as const;
export const KEYS = weighing('keys', [
  ...MODES,
  ...MODES.flatMap((mode) =>
    SEEN.flatMap((seen) => Array.from({ length: NOTES }, (_, i) => `${mode}.${seen}.${i}`)),
  ),
]);
export const TONAL = weighing('tonal', [
  'one',
  'lasting',
  'logLasting',
  'focus',
  'logFocus',
  'bassFocus',
  'triad',
  'both',
]);

/**
 * Ranks keys by a weighted sum of what is observed of each (a conditional logit whose weights are fitted):
 * the tuned chroma seen from its tonic, as with key profiles (Krumhansl 1990), the bass register's, that of
 * the beginning and the end, and which triads sound how long (after Noland & Sandler 2006).
 * `expected` is what somebody says that the key is.
 */
export function estimateKey(
  chroma: Chroma,
  peaks: PitchPeaks,
  expected?: Key & { sureness: number },
): KeyEstimate {
  const heard = hearKeys(chroma, peaks);
  const tonality = TONAL.belief(observeTonality(heard));
  if (tonality < 0.5) return { ranked: [], tonality };
  const scored = ALL_KEYS.map((key) => {
    const said = expected && expected.tonic === key.tonic && expected.mode === key.mode;
    return {
      ...key,
      score: KEYS.score(observeKey(heard, key)) + (said ? 3 * expected.sureness : 0),
    };
  }).sort((a, b) => b.score - a.score);
  const beliefs = scored.map((entry) => Math.exp((entry.score - scored[0].score) / KEYS.temperature));
  const sum = beliefs.reduce((a, b) => a + b, 0);
  const ranked = scored
    .slice(0, 5)
    .map(({ tonic, mode }, i) => ({ tonic, mode, sureness: beliefs[i] / sum }));
  return { ranked, tonality };
}

/** What is heard once and looked at from each of the keys. */
export interface HeardHarmony {
  /** Each scaled to a mean of 1. */
  total: Float64Array;
  bass: Float64Array;
  beginning: Float64Array;
  ending: Float64Array;
  /** Share of the sound in each major (0 … 11) and minor triad (12 … 23). */
  triads: Float64Array;
  /** Energy-weighted share of lasting peaks, 0 … 1. */
  lasting: number;
}

export function hearKeys(chroma: Chroma, peaks: PitchPeaks): HeardHarmony {
  const seconds = peaks.frames / peaks.frameRate;
  const edge = Math.min(4, seconds / 4);
  const scaled = (x: Float64Array) => x.map((value) => value * NOTES);
  let weighted = 0;
  let energy = 0;
  for (let f = 0; f < peaks.frames; f++) {
    const weight = Math.sqrt(peaks.energy[f]);
    weighted += weight * peaks.tonalness[f];
    energy += weight;
  }
  return {
    total: scaled(totalChroma(chroma.all)),
    bass: scaled(totalChroma(chroma.bass)),
    beginning: scaled(totalChroma(chroma.all, 0, edge)),
    ending: scaled(totalChroma(chroma.all, seconds - edge)),
    triads: triadShares(chroma.all),
    lasting: energy > 0 ? weighted / energy : 0,
  };
}

/** What is observed of one key, for KEYS. */
export function observeKey(heard: HeardHarmony, { tonic, mode }: Key): Observed {
  const observed = new Float64Array(KEYS.names.length);
  observed[KEYS.indexOf(mode)] = 1;
  const { total, bass, beginning, ending, triads } = heard;
  const seen = [total, bass, beginning, ending, triads, triads.subarray(NOTES)];
  let at = KEYS.indexOf(`${mode}.all.0`);
  for (const values of seen) for (let i = 0; i < NOTES; i++) observed[at++] = values[(tonic + i) % NOTES];
  return observed;
}

/** What tells tones of a scale from drums and noise, for TONAL. */
export function observeTonality({ total, bass, lasting, triads }: HeardHarmony): Observed {
  const focus = Math.log(NOTES) - entropy(total);
  return TONAL.vector({
    one: 1,
    lasting,
    logLasting: Math.log(lasting + 0.01),
    focus: Math.min(1, focus * 4),
    logFocus: Math.log(focus + 0.003),
    bassFocus: Math.log(NOTES) - entropy(bass),
    triad: Math.max(...triads),
    both: lasting * Math.min(1, focus * 8),
  });
}

function entropy(x: Float64Array): number {
  const sum = x.reduce((a, b) => a + b, 0);
  let entropy = 0;
  for (const value of x) if (value > 0) entropy -= (value / sum) * Math.log(value / sum);
  return sum > 0 ? entropy : Math.log(NOTES);
}

/** Share of the sound over which each triad fits best, weighted by presence. */
function triadShares({ frameRate, frames, values }: ChromaFrames): Float64Array {
  const shares = new Float64Array(2 * NOTES);
  const step = Math.max(1, Math.round(CHORD_SECONDS * frameRate));
  const sum = new Float64Array(NOTES);
  let all = 0;
  for (let from = 0; from < frames; from += step) {
    sum.fill(0);
    for (let f = from; f < Math.min(frames, from + step); f++)
      for (let p = 0; p < NOTES; p++) sum[p] += values[f * NOTES + p];
    const presence = sum.reduce((a, b) => a + b, 0);
    if (presence <= 0) continue;
    let best = 0;
    let bestFit = -1;
    for (let t = 0; t < 2 * NOTES; t++) {
      const root = t % NOTES;
      const fit = sum[root] + sum[(root + (t < NOTES ? 4 : 3)) % NOTES] + sum[(root + 7) % NOTES];
      if (fit > bestFit) {
        bestFit = fit;
        best = t;
      }
    }
    shares[best] += presence;
    all += presence;
  }
  return all > 0 ? shares.map((share) => share / all) : shares;
}
