import { attackNear } from '../signal/attack';
import { nearestZeroCrossing, quietestShift } from '../signal/seam';

/** Where exactly a stretch of bars is cut; both ends are moved alike, so that the length stays. */
export const EDGES = ['grid', 'attack', 'body', 'zero crossing', 'quietest'] as const;
export type Edge = (typeof EDGES)[number];

/** A hit of the first beat is looked for so far away, a zero crossing no farther than that; seconds. */
const ATTACK_REACH = 0.03;
const CROSSING_REACH = 0.002;
/** The body of a hit begins where its level first reaches this share of what it rises to within the time. */
const BODY_SHARE = 0.5;
const BODY_SECONDS = 0.03;

/**
 * By how much both ends are moved, seconds: not at all; to the foot of the hit there, before the noise that leads into it; to where
 * that hit has its body; to the next zero crossing within 2 ms; or to the quietest seam within 5 ms.
 */
export function edgeShift(
  channels: readonly Float32Array[],
  sampleRate: number,
  { start, end }: { start: number; end: number },
  edge: Edge,
): number {
  switch (edge) {
    case 'grid':
      return 0;
    case 'attack':
      return attackNear(channels, sampleRate, start, ATTACK_REACH) - start;
    case 'body':
      return bodyOf(channels, sampleRate, attackNear(channels, sampleRate, start, ATTACK_REACH)) - start;
    case 'zero crossing':
      return nearestZeroCrossing(channels, sampleRate, start, CROSSING_REACH) - start;
    case 'quietest':
      return quietestShift(channels, sampleRate, start, end);
  }
}

function bodyOf(channels: readonly Float32Array[], sampleRate: number, attack: number): number {
  const from = Math.max(0, Math.round(attack * sampleRate));
  const to = Math.min(channels[0].length, from + Math.round(BODY_SECONDS * sampleRate));
  const level = (n: number) => channels.reduce((most, channel) => Math.max(most, Math.abs(channel[n])), 0);
  let loudest = 0;
  for (let n = from; n < to; n++) loudest = Math.max(loudest, level(n));
  for (let n = from; n < to; n++) if (loudest > 0 && level(n) >= BODY_SHARE * loudest) return n / sampleRate;
  return attack;
}
