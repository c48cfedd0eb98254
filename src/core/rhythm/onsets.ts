import { attackTime, type AttackEnvelope } from '../signal/attack';
import { FRAME_RATE, type OnsetFeatures } from './onsetFeatures';

/** A hit: its attack in seconds and how much it stands out (1 = an average frame, 10 = a strong hit). */
export interface Onset {
  time: number;
  strength: number;
}

const NEIGHBOURHOOD_FRAMES = 4;
const THRESHOLD = 1.6;

/**
 * Local maxima of the onset strength that stand out from their surroundings (Bello et al. 2005), each
 * moved to its attack in the envelope.
 */
export function findOnsets(features: OnsetFeatures, envelope: AttackEnvelope): Onset[] {
  const { strength, frames } = features;
  const onsets: Onset[] = [];
  for (let i = 1; i < frames - 1; i++) {
    const value = strength[i];
    if (value < THRESHOLD) continue;
    let isPeak = true;
    for (
      let j = Math.max(0, i - NEIGHBOURHOOD_FRAMES);
      j <= Math.min(frames - 1, i + NEIGHBOURHOOD_FRAMES);
      j++
    ) {
      if (strength[j] > value || (strength[j] === value && j < i)) {
        isPeak = false;
        break;
      }
    }
    if (!isPeak) continue;
    const time = attackTime(envelope, i / FRAME_RATE, 0.05);
    const previous = onsets[onsets.length - 1];
    if (previous && time - previous.time < 0.02) {
      if (value > previous.strength) onsets[onsets.length - 1] = { time, strength: value };
    } else onsets.push({ time, strength: value });
  }
  return onsets;
}
