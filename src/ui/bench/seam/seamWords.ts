import type { SeamFigures } from '@/core/signal/seam';

/** A step over this many usual differences cracks. */
export const CRACKS = 4;
const TAIL_HEARD_DB = -24;
const TAIL_SECONDS = 0.06;

/** What a seam is like, in words, and whether it is heard. */
export function seamWords({ stepRatio, levelDb, tailDb, tailSeconds }: SeamFigures): {
  words: string;
  bad: boolean;
} {
  const parts: string[] = [];
  if (stepRatio > CRACKS) parts.push('clicks: the waveform jumps');
  if (tailDb !== null && tailDb > TAIL_HEARD_DB && (tailSeconds ?? 9) > TAIL_SECONDS)
    parts.push('a tail rings past the end and is cut off');
  if (levelDb < -20) parts.push('starts in silence');
  return parts.length ? { words: parts.join('; '), bad: true } : { words: 'seamless', bad: false };
}
