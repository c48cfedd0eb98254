import type { Onset } from './onsets';

/** From this strength on a hit is struck; weaker ones are within what sounds. */
const CLEAR = 4;

/** Times of the hits that keep their place and their sound however time is bent, seconds. */
export const clearHits = (onsets: readonly Onset[]): number[] =>
  onsets.filter(({ strength }) => strength >= CLEAR).map(({ time }) => time);
