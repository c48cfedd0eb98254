import { z } from 'zod';

/** What the stored files are: imported, rendered or mixed here, copies for listening, files of packs, archives that are being imported, or left to be removed. A file of several is the first. */
export const STORED_AS = ['imported', 'rendered', 'listening', 'packs', 'arriving', 'unused'] as const;
export type StoredAs = (typeof STORED_AS)[number];

/** A backup that was written of this library. */
export const writtenBackup = z.object({
  file: z.string(),
  bytes: z.number().int(),
  samples: z.number().int(),
  /** It holds the library as it was then. */
  beganAt: z.iso.datetime(),
  /** Days since then. */
  age: z.number(),
  /** When it was read back and compared; null: it was not. */
  verifiedAt: z.iso.datetime().nullable(),
});

/** What the library takes up, and when it was last backed up. */
export const storageState = z.object({
  stored: z.partialRecord(z.enum(STORED_AS), z.object({ files: z.number().int(), bytes: z.number().int() })),
  /** All of the database, the files included. */
  databaseBytes: z.number().int(),
  /** Left on the disk that the database lies on; null where that is another machine's. */
  freeBytes: z.number().int().nullable(),
  lastBackup: writtenBackup.nullable(),
});
export type StorageState = z.infer<typeof storageState>;
