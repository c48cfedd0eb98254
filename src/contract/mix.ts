import { z } from 'zod';
import { differences } from '@/core/recipes/differences';
import { blend } from './blend';
import { AUDIO_FORMATS } from '@/core/recipes/recipe';

/** What is exported of a blend as audio. */
export const outcome = z.discriminatedUnion('what', [
  z.object({ what: z.literal('mix') }),
  z.object({ what: z.literal('lane'), laneId: z.string(), name: z.string() }),
  z.object({ what: z.literal('click'), countInBars: z.int().min(0).max(8) }),
]);
export type MixExport = z.infer<typeof outcome>;

/** What is asked of a blend: which outcomes, and how they are written. */
export const mixRequest = z.object({
  outcomes: z.array(outcome).min(1).max(16),
  format: z.enum(AUDIO_FORMATS).default('wav 24'),
  sampleRate: z.int().min(8000).max(192_000).default(44_100),
  isSaved: z.boolean().default(true),
  /** The pack that it is put into as well. */
  packId: z.uuid().nullable().default(null),
  /** The lanes become a stem set. */
  asSet: z.boolean().default(false),
});
export type MixRequest = z.infer<typeof mixRequest>;

/** How a sample came of a blend. */
export const mixOf = z.object({
  blendId: z.uuid().nullable(),
  outcome,
  state: blend,
  differences,
});
export type MixOf = z.infer<typeof mixOf>;
