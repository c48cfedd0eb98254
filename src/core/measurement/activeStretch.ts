import { FRAME_RATE, type OnsetFeatures } from '../rhythm/onsetFeatures';

/** A part of a recording, seconds. */
export interface Stretch {
  start: number;
  end: number;
}

/** Sound this far under the loudest frame counts as silence. */
const SILENT_BELOW_DB = -50;
const SILENCE_DB = -85;

/** From the first to the last frame that is not silence, or null when there is nothing else. */
export function activeStretch(features: OnsetFeatures): Stretch | null {
  let loudest = -Infinity;
  for (const level of features.levelDb) loudest = Math.max(loudest, level);
  if (loudest < SILENCE_DB) return null;
  const threshold = Math.max(SILENCE_DB, loudest + SILENT_BELOW_DB);
  let first = 0;
  while (features.levelDb[first] < threshold) first++;
  let last = features.frames - 1;
  while (features.levelDb[last] < threshold) last--;
  return { start: first / FRAME_RATE, end: (last + 1) / FRAME_RATE };
}
