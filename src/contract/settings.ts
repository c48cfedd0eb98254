import { z } from 'zod';

/** A range that tempi lie in, BPM. */
export const tempoRange = z
  .object({ low: z.number().min(20).max(500), high: z.number().min(20).max(500) })
  .refine(({ low, high }) => high >= low * 1.05, 'the upper end must be above the lower end');

/** Customs of a library. */
export const librarySettings = z.object({
  /** Tempi of new samples are looked for in this range; null: in the whole. */
  tempoRange: tempoRange.nullable(),
  /** Samples that have been in the bin for so many days are deleted by themselves; null: never. */
  binDays: z.int().min(1).max(3650).nullable(),
  /** Whether the tempi of proved samples have a say when others are measured. */
  learnsTempi: z.boolean(),
});
export type LibrarySettings = z.infer<typeof librarySettings>;

export const DEFAULT_SETTINGS: LibrarySettings = { tempoRange: null, binDays: 30, learnsTempi: true };
