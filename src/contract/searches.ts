import { z } from 'zod';
import { shelfView } from './shelfQuery';

/** A question to the Shelf under a name. */
export const newSearch = z.object({ name: z.string().trim().min(1).max(80), asked: shelfView });
export type NewSearch = z.infer<typeof newSearch>;

export const keptSearch = newSearch.extend({ searchId: z.uuid() });
export type KeptSearch = z.infer<typeof keptSearch>;
