/** How far a fit bends a sample. */
export interface Bend {
  /** Length of the result by that of the source. */
  ratio: number;
  /** Semitones that its pitch is moved by, its length held; a fraction for cents. */
  semitones: number;
}

/**
 * What a bend costs: distances of spectra from the ideal result, in dB, as `docs/fit.md` has them of our own voice: a tempo
 * that is half as fast again or two thirds as fast costs about as much as seven semitones. Of that, 1 is this much.
 */
export const RATIO_OF_ONE = 1.5;
const SEMITONES_OF_ONE = 7;
/** Longer costs more than shorter: what is missing between the hits has to be made. */
const LONGER = 1.15;

/**
 * Strain as one figure: 0 as it was recorded, 1 at the edge of what is well (half as fast again, or seven semitones). As a tape
 * nothing is made up; what is heard is only that it is not what it was: half of it.
 */
export function strainOf({ ratio, semitones }: Bend, isTape = false): number {
  const time = (Math.abs(Math.log2(ratio)) / Math.log2(RATIO_OF_ONE)) * (ratio > 1 ? LONGER : 1);
  if (isTape) return time / 2;
  return Math.hypot(time, semitones / SEMITONES_OF_ONE);
}

const STRAIN_WORDS = ['none', 'slight', 'moderate', 'strong', 'too much'] as const;
export type StrainWord = (typeof STRAIN_WORDS)[number];
/** Up to these strains the words are said. */
const UP_TO = [0.005, 0.35, 0.85, 1.8, Infinity];

/** The word for a strain. */
export function strainWord(strain: number): StrainWord {
  return STRAIN_WORDS[UP_TO.findIndex((most) => strain <= most)];
}
