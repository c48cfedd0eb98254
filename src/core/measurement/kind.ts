import type { RhythmHypothesis } from '../rhythm/meterHypotheses';
import { FRAME_RATE, type OnsetFeatures } from '../rhythm/onsetFeatures';
import type { Onset } from '../rhythm/onsets';
import type { Stretch } from './activeStretch';
import type { SampleKind } from './schema';

/** Recordings at least this long are songs when nothing else speaks. */
const SONG_SECONDS = 45;

/** Tells one-shot, loop and song apart by length, number of hits, decay and repetition. */
export function tellKind(
  features: OnsetFeatures,
  onsets: readonly Onset[],
  active: Stretch,
  hypotheses: readonly RhythmHypothesis[],
  durationSeconds: number,
): { kind: SampleKind; kindSureness: number } {
  if (durationSeconds >= SONG_SECONDS) return { kind: 'song', kindSureness: 0.95 };
  const length = active.end - active.start;
  const strong = onsets.filter((onset) => onset.strength > 3).length;
  const late = lateLevelDb(features, active);
  // Points towards a loop: hits after the first, sound that keeps its level, repetition, enough length.
  const repetition = hypotheses[0]?.observations.repeat2 ?? 0;
  const score =
    0.55 * Math.min(8, strong - 1) +
    0.08 * (late + 18) +
    1.5 * repetition +
    0.6 * Math.min(6, length - 1.6) -
    1.2;
  const loopSureness = 1 / (1 + Math.exp(-score));
  if (hypotheses.length === 0 || loopSureness < 0.5)
    return { kind: 'oneshot', kindSureness: 1 - loopSureness };
  return { kind: 'loop', kindSureness: loopSureness };
}

/** Level of the second half of the sound relative to its first half, dB. */
function lateLevelDb(features: OnsetFeatures, active: Stretch): number {
  const first = Math.round(active.start * FRAME_RATE);
  const last = Math.min(features.frames, Math.round(active.end * FRAME_RATE));
  const middle = (first + last) >> 1;
  const power = (from: number, to: number) => {
    let sum = 0;
    for (let i = from; i < to; i++) sum += 10 ** (features.levelDb[i] / 10);
    return sum / Math.max(1, to - from);
  };
  return Math.max(-40, 10 * Math.log10((power(middle, last) + 1e-12) / (power(first, middle) + 1e-12)));
}
