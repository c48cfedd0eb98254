import { z } from 'zod';
import { keyValue } from '../harmony/keyValue';
import { meterValue } from '../rhythm/grid';

/** The properties that are settled from readings. */
export const PROPERTIES = ['tempo', 'one', 'meter', 'key', 'tuning'] as const;
export type Property = (typeof PROPERTIES)[number];

/** Where a reading comes from. */
export const SOURCES = [
  'detector',
  /** What a newer engine measures where it is not what is settled. */
  'newer measurement',
  'file name',
  'embedded tag',
  'stem set',
  /** What the recipe says that it was made by. */
  'derived',
  'taps',
  'length',
  'pins',
  'typed',
] as const;
export type Source = (typeof SOURCES)[number];

/** A key, or `none` for material that has no key: "no key" is a value, not a missing one. */
export const keyReadingValue = z.union([keyValue, z.object({ none: z.literal(true) })]);
export type KeyReadingValue = z.infer<typeof keyReadingValue>;

/** The value of a reading of each property. Tempo in BPM, the one in seconds, tuning in cents. */
export const readingValue = z.discriminatedUnion('property', [
  z.object({ property: z.literal('tempo'), value: z.number().min(10).max(1000) }),
  z.object({ property: z.literal('one'), value: z.number() }),
  z.object({ property: z.literal('meter'), value: meterValue }),
  z.object({ property: z.literal('key'), value: keyReadingValue }),
  z.object({ property: z.literal('tuning'), value: z.number().min(-50).max(50) }),
]);
export type ReadingValue = z.infer<typeof readingValue>;

/** One value for one property from one source. */
export type Reading = ReadingValue & {
  source: Source;
  /** 0 … 1 */
  sureness: number;
  /** Where in the source it stood, or what was done, in words: `"164" in the name`. */
  detail: string;
};
