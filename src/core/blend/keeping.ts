import { z } from 'zod';
import { differences } from '../recipes/differences';
import { outcome } from '../library/mix';
import { steppedOf } from '../library/stepped';
import { blend } from '../library/blend';

/** A blend as it is kept. */
export const keptBlend = steppedOf(blend);
export type KeptBlend = z.infer<typeof keptBlend>;

/** A row of the list of blends. */
export const blendRow = z.object({
  blendId: z.uuid(),
  name: z.string(),
  lanes: z.array(z.string()),
  tempoBpm: z.number().nullable(),
  changedAt: z.string(),
});
export type BlendRow = z.infer<typeof blendRow>;

/** How a sample came of a blend. */
export const mixOf = z.object({
  blendId: z.uuid().nullable(),
  outcome,
  state: blend,
  differences,
});
export type MixOf = z.infer<typeof mixOf>;
