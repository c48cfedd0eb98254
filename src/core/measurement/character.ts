import { FRAME_RATE, type OnsetFeatures } from '../rhythm/onsetFeatures';
import type { Onset } from '../rhythm/onsets';
import { median } from '../math/median';
import { attackRise, type AttackEnvelope } from '../signal/attack';
import type { Stretch } from './activeStretch';

/** What the scales of the tags are proposed from. */
export interface Character {
  onsetsPerSecond: number;
  /** Energy-weighted mean of the spectral centroid, Hz. */
  centroidHz: number;
  /** Energy-weighted spectral flatness, 0 … 1. */
  flatness: number;
  /** Median time in which the level falls by 20 dB after a strong hit, seconds; null when none is free to fall. */
  decaySeconds: number | null;
  /** Median time that strong hits take to come up after their place (signal/attack), ms; 0 for what is struck, null without hits. */
  attackMs: number | null;
}

const LONGEST_DECAY = 3;

export function measureCharacter(
  features: OnsetFeatures,
  onsets: readonly Onset[],
  active: Stretch,
  envelope: AttackEnvelope,
): Character {
  const strong = onsets.filter((onset) => onset.strength > 2);
  const decays: number[] = [];
  for (const { time } of strong) {
    const decay = timeToFall(features.levelDb, Math.round(time * FRAME_RATE));
    if (decay !== null) decays.push(decay);
  }
  return {
    onsetsPerSecond: strong.length / Math.max(0.5, active.end - active.start),
    centroidHz: features.centroidHz,
    flatness: features.flatness,
    decaySeconds: decays.length ? median(decays) : null,
    attackMs: strong.length
      ? Math.round(1000 * median(strong.map(({ time }) => attackRise(envelope, time))))
      : null,
  };
}

/** Extrapolates from what is heard before the next rise, when that is at least 6 dB of fall. */
function timeToFall(levelDb: Float32Array, from: number): number | null {
  let peak = from;
  for (let i = from; i < Math.min(levelDb.length, from + 6); i++) if (levelDb[i] > levelDb[peak]) peak = i;
  let lowest = peak;
  for (let i = peak; i < Math.min(levelDb.length, peak + LONGEST_DECAY * FRAME_RATE); i++) {
    if (levelDb[i] < levelDb[lowest]) lowest = i;
    if (levelDb[i] > levelDb[lowest] + 3) break;
    if (levelDb[peak] - levelDb[lowest] >= 20) break;
  }
  const fall = levelDb[peak] - levelDb[lowest];
  return fall >= 6 ? Math.min(LONGEST_DECAY, (((lowest - peak) / FRAME_RATE) * 20) / fall) : null;
}
