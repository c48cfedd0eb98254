import { z } from 'zod';
import { differences } from '../recipes/differences';
import { outcome } from '../library/mix';
import { blend } from '../library/blend';
import { blendOrder } from './orders';

/** A blend as it is kept. */
export const keptBlend = z.object({
  blendId: z.uuid(),
  /** The state that is shown. */
  sequence: z.int(),
  state: blend,
  /** What undo takes back and redo does again; null where there is nothing. */
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});
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

/** A new one, or a copy of one. */
export const newBlend = z.object({ name: blend.shape.name.optional(), copyOf: z.uuid().optional() });

/** A change: an order with what it is called, or a step back or forth. */
export const blendChange = z.discriminatedUnion('do', [
  z.object({ do: z.literal('order'), words: z.string().trim().min(1).max(200), order: blendOrder }),
  z.object({ do: z.literal('undo') }),
  z.object({ do: z.literal('redo') }),
]);
export type BlendChange = z.infer<typeof blendChange>;

/** How a sample came of a blend. */
export const mixOf = z.object({
  blendId: z.uuid().nullable(),
  outcome,
  state: blend,
  differences,
});
export type MixOf = z.infer<typeof mixOf>;
