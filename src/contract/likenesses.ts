import { z } from 'zod';
import { sampleSummary } from './entry';

/** Two samples that hold the same recording; `a` was here first. */
export const likeness = z.object({
  relation: z.enum(['same bytes', 'same audio', 'same recording']),
  offsetSeconds: z.number(),
  difference: z.number(),
  a: z.uuid(),
  b: z.uuid(),
});
export type Likeness = z.infer<typeof likeness>;

/** An undecided pair with both rows, for looking at side by side. */
export const alikePair = likeness.extend({ samples: z.tuple([sampleSummary, sampleSummary]) });
export type AlikePair = z.infer<typeof alikePair>;

export const likenessChange = z.object({
  a: z.uuid(),
  b: z.uuid(),
  /** `merge`: b's tags, note and readings go to a, and b to the bin; `open`: the decision is undone. */
  do: z.enum(['merge', 'keep apart', 'swap and merge', 'open']),
});
