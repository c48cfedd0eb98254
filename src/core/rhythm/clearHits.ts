import type { Onset } from './onsets';

/** From this strength on a hit is struck; weaker ones are within what sounds. */
const CLEAR = 4;

/** Before a hit in these first seconds there is nothing that its strength could be measured against: it is struck. */
const BEGINNING = 0.03;

/** Times of the hits that keep their place and their sound however time is bent, seconds. */
export const clearHits = (onsets: readonly Onset[]): number[] =>
  onsets.filter(({ time, strength }) => strength >= CLEAR || time < BEGINNING).map(({ time }) => time);
