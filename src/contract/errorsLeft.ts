import { z } from 'zod';

/** Of what the errors that are left are told. */
export const GUESSED = ['tempo', 'key'] as const;
export type Guessed = (typeof GUESSED)[number];

/** So many are looked at first. */
export const LOOKED_AT_FIRST = 60;

/** Sums over the confidences of guesses that nobody has proved, chosen or accepted. */
export const guessSums = z.object({
  guesses: z.number().int(),
  /** What is missing to certainty, in all. */
  missing: z.number(),
  /** Of the number of wrong ones, were they independent. */
  variance: z.number(),
  /** How many of the least certain ones are looked at first, and what those miss. */
  first: z.number().int(),
  missingInFirst: z.number(),
});
export type GuessSums = z.infer<typeof guessSums>;

/** How many guesses are expected to be wrong, within 19 of 20 cases. */
const expectedErrors = z.object({
  guesses: z.number().int(),
  expected: z.number(),
  low: z.number(),
  high: z.number(),
  first: z.number().int(),
  expectedInFirst: z.number(),
});
export type ExpectedErrors = z.infer<typeof expectedErrors>;

/** Which samples are asked about. */
export const errorsLeftQuery = z.object({ of: z.enum(['all', 'saved']).default('all') });

export const errorsLeft = z.object({ tempo: expectedErrors, key: expectedErrors });
export type ErrorsLeft = z.infer<typeof errorsLeft>;
