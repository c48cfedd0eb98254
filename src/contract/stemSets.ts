import { z } from 'zod';

/** A stem set with its members in their order of use. */
export const stemSet = z.object({
  setId: z.uuid(),
  name: z.string(),
  state: z.enum(['proposed', 'joined', 'refused']),
  reasons: z.array(z.string()),
  members: z.array(
    z.object({
      sampleId: z.uuid(),
      name: z.string(),
      folder: z.string(),
      thumbnail: z.string().nullable(),
      durationSeconds: z.number().nullable(),
      tempoBpm: z.number().nullable(),
      key: z.string().nullable(),
      givesGrid: z.boolean(),
      givesKey: z.boolean(),
      gridRank: z.number(),
      gridReasons: z.array(z.string()),
      keyRank: z.number(),
      keyReasons: z.array(z.string()),
      /** Where it begins to sound, seconds. */
      soundsFrom: z.number().nullable(),
      /** How much later than the set's its own one stands, within a bar, ms; null where it tells none. */
      ownOneMs: z.number().nullable(),
      /** The key that it is measured in; null where it tells none. */
      ownKey: z.string().nullable(),
    }),
  ),
});
export type StemSet = z.infer<typeof stemSet>;

export const stemSetChange = z.object({
  state: z.enum(['joined', 'refused']).optional(),
  gridFrom: z.uuid().optional(),
  keyFrom: z.uuid().optional(),
  name: z.string().trim().min(1).max(300).optional(),
  remove: z.uuid().optional(),
});
export type StemSetChange = z.infer<typeof stemSetChange>;

/** Joins samples as stems of one piece. */
export const joinRequest = z.object({
  sampleIds: z.array(z.uuid()).min(2).max(100),
  name: z.string().trim().min(1).max(300),
});
