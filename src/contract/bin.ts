import { z } from 'zod';

/** What hangs on samples that went into the bin: how many others were made from them, and how many blends and packs hold them. */
export const hanging = z.object({ made: z.number(), blends: z.number(), packs: z.number() });
export type Hanging = z.infer<typeof hanging>;

export const NOTHING_HANGS: Hanging = { made: 0, blends: 0, packs: 0 };

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
