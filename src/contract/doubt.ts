import { z } from 'zod';
import { PLAN_FAULTS } from '@/core/recipes/differences';
import { keyValue } from '@/core/harmony/keyValue';

/** The sorts of reasons, as the Intake filters by them; their order is stored, new ones go to the end. */
export const NEED_SORTS = [
  'sources disagree',
  'tempo in doubt',
  'key in doubt',
  'drifts',
  'not trimmed',
  'alike',
  'damaged',
  'not as planned',
  'the one in doubt',
  'kind in doubt',
  'does not fit',
  'to join',
  'meter in doubt',
  'bars in doubt',
  'measured anew',
] as const;
export type NeedSort = (typeof NEED_SORTS)[number];

/** Sorts that say that something useful waits; all others say that a value may be wrong. */
const TO_DO: readonly NeedSort[] = ['not trimmed', 'alike', 'to join', 'measured anew'];
export const DOUBT_SORTS = NEED_SORTS.filter((sort) => !TO_DO.includes(sort));
export const TO_DO_SORTS = NEED_SORTS.filter((sort) => TO_DO.includes(sort));

/** The bit of a sort. */
export const needBit = (sort: NeedSort): number => 1 << NEED_SORTS.indexOf(sort);
const bitsOf = (sorts: readonly NeedSort[]): number => sorts.reduce((bits, sort) => bits | needBit(sort), 0);
/** All bits of sorts that say that a value may be wrong, and of those that say that something waits. */
export const DOUBT_BITS = bitsOf(DOUBT_SORTS);
export const TO_DO_BITS = bitsOf(TO_DO_SORTS);

const key = keyValue;
const meter = z.object({ beatsPerBar: z.number(), beatUnit: z.number() });
/** Sources that are held against what was measured. */
const witness = z.enum(['file name', 'embedded tag', 'stem set']);
export type Witness = z.infer<typeof witness>;

/** Why a curator should look at a sample, or what waits to be done with it: a code with its figures. Words are `words/doubts`. */
const reason = z.discriminatedUnion('code', [
  z.object({ code: z.literal('tempo disagrees'), by: witness, saysBpm: z.number(), bpm: z.number() }),
  z.object({ code: z.literal('key disagrees'), by: witness, says: key, key }),
  /** Negative: the stem set says that the one is earlier. */
  z.object({ code: z.literal('one disagrees'), apartMs: z.number() }),
  z.object({ code: z.literal('tempo uncertain'), bpm: z.number(), otherBpm: z.number().nullable() }),
  z.object({ code: z.literal('no tempo') }),
  z.object({ code: z.literal('one uncertain'), sureness: z.number() }),
  z.object({ code: z.literal('meter uncertain'), meter, sureness: z.number() }),
  z.object({ code: z.literal('bars uncertain'), bars: z.number(), sureness: z.number() }),
  z.object({ code: z.literal('key uncertain'), key, other: key.nullable() }),
  z.object({ code: z.literal('kind uncertain'), kind: z.string() }),
  z.object({ code: z.literal('nothing to measure'), what: z.enum(['speech', 'silence', 'noise']) }),
  z.object({ code: z.literal('grid leans'), isLate: z.boolean(), barsUntil20Ms: z.number() }),
  z.object({ code: z.literal('tempo moves'), wanderMs: z.number() }),
  /** Positive: hits are late. */
  z.object({ code: z.literal('grid is beside'), medianMs: z.number() }),
  /** What a newer engine measures where something else is settled; null: nothing is settled. */
  z.object({
    code: z.literal('newer tempo'),
    saysBpm: z.number(),
    bpm: z.number().nullable(),
    sureness: z.number(),
  }),
  z.object({ code: z.literal('newer meter'), says: meter, sureness: z.number() }),
  /** Negative: it says that the one is earlier. */
  z.object({ code: z.literal('newer one'), apartMs: z.number(), sureness: z.number() }),
  /** null: no key. */
  z.object({ code: z.literal('newer key'), says: key.nullable(), key: key.nullable(), sureness: z.number() }),
  z.object({ code: z.literal('drifts') }),
  z.object({ code: z.literal('not trimmed') }),
  z.object({ code: z.literal('may be a stem'), set: z.string() }),
  z.object({ code: z.literal('damaged') }),
  z.object({ code: z.literal('not as planned'), in: z.enum(PLAN_FAULTS) }),
  z.object({
    code: z.literal('alike'),
    relation: z.enum(['same bytes', 'same audio', 'same recording']),
    name: z.string(),
    others: z.number(),
  }),
]);
export type Reason = z.infer<typeof reason>;

/** A reason with how much it matters, 0 … 1: how likely it is that what is settled is wrong or unusable. */
export const doubt = reason.and(z.object({ weight: z.number() }));
export type Doubt = z.infer<typeof doubt>;

const SORTS: Record<Reason['code'], NeedSort> = {
  'tempo disagrees': 'sources disagree',
  'key disagrees': 'sources disagree',
  'one disagrees': 'sources disagree',
  'tempo uncertain': 'tempo in doubt',
  'no tempo': 'tempo in doubt',
  'one uncertain': 'the one in doubt',
  'meter uncertain': 'meter in doubt',
  'bars uncertain': 'bars in doubt',
  'key uncertain': 'key in doubt',
  'kind uncertain': 'kind in doubt',
  'nothing to measure': 'kind in doubt',
  'grid leans': 'does not fit',
  'tempo moves': 'does not fit',
  'grid is beside': 'does not fit',
  'newer tempo': 'measured anew',
  'newer meter': 'measured anew',
  'newer one': 'measured anew',
  'newer key': 'measured anew',
  drifts: 'drifts',
  'not trimmed': 'not trimmed',
  'may be a stem': 'to join',
  damaged: 'damaged',
  'not as planned': 'not as planned',
  alike: 'alike',
};

/** The sort that a doubt is filtered by. */
export const sortOf = ({ code }: Pick<Doubt, 'code'>): NeedSort => SORTS[code];
/** Whether it says that something useful waits, not that a value may be wrong. */
export const isToDo = (one: Pick<Doubt, 'code'>): boolean => TO_DO.includes(sortOf(one));
