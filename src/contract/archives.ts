import { z } from 'zod';

/** The most samples that are taken away in one archive. */
export const MOST_TAKEN_AWAY = 2000;

/** Which samples are to be taken away together, and as what. */
export const archiveRequest = z.object({
  sampleIds: z.array(z.uuid()).min(1).max(MOST_TAKEN_AWAY),
  as: z.enum(['tagged', 'original']),
});
export type ArchiveRequest = z.infer<typeof archiveRequest>;

/** Where the archive is fetched, once. */
export const archiveTicket = z.object({ key: z.string() });
