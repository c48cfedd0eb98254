/**
 * Weights of the observations in `rhythmHypotheses`, in natural-log odds. Signs follow the reasoning: a
 * felt beat has strong evidence, repeats at two and four beats, alternates low and middle register, and is
 * near the tempi that people tap.
 */
export const LEVEL_WEIGHTS: Record<string, number> = {
  felt: 1.2,
  salience: 0.8,
  on: 1.2,
  half: -0.6,
  third: -0.3,
  low: 0.6,
  alternationLow: 1.0,
  alternationMid: 1.0,
  repeat1: 1,
  repeat2: 1,
  repeat4: 1,
  bars: 0.5,
};
