import { z } from 'zod';

/** A key as it is kept and sent. */
export const keyValue = z.object({ tonic: z.int().min(0).max(11), mode: z.enum(['major', 'minor']) });
