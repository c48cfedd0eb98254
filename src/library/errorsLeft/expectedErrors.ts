import type { ExpectedErrors, GuessSums } from '@/contract/errorsLeft';

/**
 * Confidences are themselves estimated: their sum may be off by this share of it beside what chance does. Chosen so that
 * held-out recordings lie within (lab/accuracy/errorsLeft).
 */
const CALIBRATION_SHARE = 0.12;
/** Standard deviations to either side that hold 19 of 20 draws. */
const TWO_SIDED_95 = 1.96;

/**
 * How many of some guesses are wrong when each is right with its confidence: the sum of what is missing to certainty,
 * within a 95 % interval (a sum of unlike coin tosses, Poisson 1837, widened by how far confidences themselves are off).
 */
export function expectedErrors({
  guesses,
  missing,
  variance,
  first,
  missingInFirst,
}: GuessSums): ExpectedErrors {
  const spread = Math.sqrt(variance + (CALIBRATION_SHARE * missing) ** 2);
  const within = TWO_SIDED_95 * spread;
  return {
    guesses,
    expected: missing,
    // No fewer than none, no more than all.
    low: Math.max(0, missing - within),
    high: Math.min(guesses, missing + within),
    first,
    expectedInFirst: missingInFirst,
  };
}

/** What the sums are of some confidences, 0 … 1; the `most` least certain ones are looked at first. */
export function sumsOf(confidences: readonly number[], most: number): GuessSums {
  const rising = [...confidences].sort((a, b) => a - b);
  const missing = rising.map((confidence) => 1 - confidence);
  const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0);
  return {
    guesses: rising.length,
    missing: sum(missing),
    variance: sum(missing.map((share) => share * (1 - share))),
    first: Math.min(most, rising.length),
    missingInFirst: sum(missing.slice(0, most)),
  };
}
