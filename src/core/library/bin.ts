import { z } from 'zod';
import { hanging } from './hanging';

/** What lies in the bin, and what hangs on it. */
export const binState = z.object({
  samples: z.number(),
  /** What is free when it is emptied. */
  bytes: z.number(),
  hanging,
  /** What lies there longer is deleted by itself; null: nothing is. */
  binDays: z.number().nullable(),
});
export type BinState = z.infer<typeof binState>;

/** Deletes samples that lie in the bin for good: these, or all (null). */
export const binRequest = z.object({ sampleIds: z.array(z.uuid()).min(1).max(20_000).nullable() });

export const binDeleted = z.object({
  samples: z.number(),
  bytes: z.number(),
  /** Samples that are still to be deleted: asked again, it goes on with them. */
  left: z.number(),
});
export type BinDeleted = z.infer<typeof binDeleted>;
