import { z } from 'zod';
import { keyReadingValue } from '@/core/readings/reading';
import { gridValue } from '@/core/rhythm/grid';
import { loopValue } from '@/core/rhythm/loop';
import { pinValue } from '@/core/rhythm/pins';
import { sampleKind } from '@/core/measurement/schema';
import { FACET_NAMES, isKnownTag } from '@/core/tags/facets';

const facet = z.enum([...FACET_NAMES, 'word'] as const);
/** Of one sample. */
export const MOST_TAGS = 60;

const tag = z
  .object({ facet, value: z.string().min(1).max(40) })
  .refine(isKnownTag, 'not a value of this facet');

/** Everything about a sample that is settled by a curator (or, at first, by the measurement). */
export const settledState = z.object({
  grid: gridValue.nullable(),
  /** Beats fixed to places by hand, rising in both. */
  pins: z.array(pinValue).max(2000),
  /** null: all whole bars from the one. */
  loop: loopValue.nullable(),
  /** null: not settled; `none`: settled as having no key. */
  key: keyReadingValue.nullable(),
  tuningCents: z.number().min(-50).max(50).nullable(),
  tags: z.array(tag).max(MOST_TAGS),
  note: z.string().max(4000),
  rating: z.int().min(1).max(5).nullable(),
  origin: z.string().max(300),
  licence: z.string().max(300),
  /** The name that the sample goes by; null: the one it arrived under. */
  title: z
    .string()
    .min(1, 'a name needs at least one character')
    .max(300, 'a name has at most 300 characters')
    .nullable(),
  /** What the curator says that it is; null: what measuring says. */
  kind: sampleKind.nullable(),
  /** The curator has looked at what was measured and takes it. */
  accepted: z.boolean(),
  /** Which reading each property was settled from. */
  chosen: z.partialRecord(z.enum(['tempo', 'one', 'meter', 'key', 'tuning']), z.uuid()),
});
export type SettledState = z.infer<typeof settledState>;

export const EMPTY_STATE: SettledState = {
  grid: null,
  pins: [],
  loop: null,
  key: null,
  tuningCents: null,
  tags: [],
  note: '',
  rating: null,
  origin: '',
  licence: '',
  title: null,
  kind: null,
  accepted: false,
  chosen: {},
};
