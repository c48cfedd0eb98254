import { z } from 'zod';

/** A server folder remembered for looking through; watched, its new files come in by themselves. */
export const place = z.object({
  placeId: z.number(),
  path: z.string(),
  watched: z.boolean(),
  fault: z.string().nullable(),
});
export type Place = z.infer<typeof place>;

/** All folders, and the folders below which one may be kept. */
export const keptPlaces = z.object({ places: z.array(place), roots: z.array(z.string()) });

export const placeRequest = z.object({ path: z.string().trim().min(1).max(2000) });

/** A folder of a folder: what is in it, and what of it was imported. */
export const placeFolder = z.object({
  placeId: z.number(),
  /** Below the place, "" for itself. */
  path: z.string(),
  folders: z.array(z.object({ name: z.string(), files: z.number() })),
  files: z.array(
    z.object({
      name: z.string(),
      byteLength: z.number(),
      modifiedMs: z.number(),
      /** The name's tempo and key in words, as far as it says any. */
      tempo: z.string().nullable(),
      key: z.string().nullable(),
      takenIn: z.boolean(),
    }),
  ),
  /** Files that Grento does not read; they are left out of the list. */
  others: z.number(),
});
export type PlaceFolder = z.infer<typeof placeFolder>;

/** What a look into a file tells: its length and its waveform, signed bytes [min, max, …] in base 64. */
export const filePeek = z.object({
  durationSeconds: z.number().nullable(),
  thumbnail: z.string().nullable(),
  fault: z.string().nullable(),
});
export type FilePeek = z.infer<typeof filePeek>;

/** A long task that was begun, and for how many files. */
export const begunTask = z.object({ taskId: z.number(), files: z.number() });
export type BegunTask = z.infer<typeof begunTask>;
