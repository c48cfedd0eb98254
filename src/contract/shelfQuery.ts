import { z } from 'zod';
import { LIKE_BY } from '@/core/resemblance/features';
import { sampleKind } from '@/core/measurement/schema';
import { KEY_NEAR } from '@/core/harmony/nearKeys';
import { NEED_SORTS } from './doubt';
import { sampleSummary } from './entry';

const numberParam = z.coerce.number();
/** How many rows are passed over: more than any library has is a mistake. */
const offset = numberParam.int().min(0).max(100_000_000).default(0);
const limit = numberParam.int().min(0).max(500).default(200);

/** How many rows the list has, as the first page told: the further half is then found from its end. */
const of = numberParam.int().min(0).nullable().default(null);

/** How the Intake is asked. */
export const intakeQuery = z.object({
  show: z
    .enum([
      'all',
      'needs a look',
      'to do',
      ...NEED_SORTS,
      'sure',
      'measured tempo',
      'measured key',
      'measuring',
      'faulty',
      'not saved',
      'saved',
      'bin',
    ])
    .default('all'),
  kind: z.union([sampleKind, z.literal('')]).default(''),
  text: z.string().max(200).default(''),
  sort: z
    .enum([
      'arrived',
      'name',
      'kind',
      'length',
      'tempo',
      'key',
      'standing',
      'need',
      'tempo confidence',
      'key confidence',
    ])
    .default('need'),
  direction: z.enum(['up', 'down']).default('down'),
  offset,
  limit,
  of,
});
export type IntakeQuery = z.infer<typeof intakeQuery>;

/** A page of a list. How many rows there are in all is counted once, with the first page. */
export const samplePage = z.object({
  total: z.number().nullable(),
  /** There are more than `total`, which is as far as the list goes: the words are to be narrowed. */
  more: z.boolean(),
  /** The words that were looked for instead, where those that were typed stand nowhere. */
  insteadOf: z.array(z.object({ typed: z.string(), found: z.string() })),
  rows: z.array(sampleSummary),
});
export type SamplePage = z.infer<typeof samplePage>;

/** A sample with the revision that it had when a list of them was asked for. */
export const listedTarget = z.object({ sampleId: z.uuid(), base: z.number().nullable() });

/** How many there are under each choice of `show`, within the text and the kind that are asked for. */
export const intakeCounts = z.record(z.string(), z.number());
export type IntakeCounts = z.infer<typeof intakeCounts>;

/** What a saved sample may lack that it should have before it is given away. */
export const LACKS = ['licence', 'tags'] as const;
export type Lack = (typeof LACKS)[number];

/** How the Shelf is asked. Tags are written `facet:value`; values of one facet widen, facets narrow. */
export const shelfQuery = z.object({
  text: z.string().max(200).default(''),
  tempoFrom: numberParam.min(0).max(1000).nullable().default(null),
  tempoTo: numberParam.min(0).max(1000).nullable().default(null),
  alsoHalfDouble: z
    .union([z.boolean(), z.enum(['true', 'false']).transform((word) => word === 'true')])
    .default(false),
  keyTonic: numberParam.int().min(0).max(11).nullable().default(null),
  keyMode: z.enum(['major', 'minor']).nullable().default(null),
  /** How far from that key (or tonic) the found ones may be. */
  keyNear: z.enum(KEY_NEAR).default('exactly'),
  kind: z.string().max(20).nullable().default(null),
  lengthFrom: numberParam.min(0).nullable().default(null),
  lengthTo: numberParam.min(0).nullable().default(null),
  ratingFrom: numberParam.int().min(1).max(5).nullable().default(null),
  moves: z.enum(['steady', 'moving']).nullable().default(null),
  origin: z.string().max(300).nullable().default(null),
  licence: z.string().max(300).nullable().default(null),
  made: z.enum(['derived', 'as it arrived']).nullable().default(null),
  /** Made from this sample. */
  parent: z.uuid().nullable().default(null),
  beatsPerBar: numberParam.int().min(1).max(32).nullable().default(null),
  beatUnit: numberParam.int().min(1).max(32).nullable().default(null),
  bars: numberParam.int().min(1).max(10_000).nullable().default(null),
  proof: z.enum(['proved', 'unproved']).nullable().default(null),
  lacks: z.enum(LACKS).nullable().default(null),
  tags: z
    .array(z.string().regex(/^[a-z ]+:.{1,40}$/))
    .max(40)
    .default([]),
  sort: z.enum(['saved', 'name', 'tempo', 'key', 'length', 'rating', 'strain', 'likeness']).default('saved'),
  /** The sample that similarity is told to, and by what. */
  like: z.uuid().nullable().default(null),
  likeBy: z.enum(LIKE_BY).default('all'),
  /** What strain is told by: BPM, and a key's number. */
  targetTempo: numberParam.min(10).max(1000).nullable().default(null),
  targetKey: numberParam.int().min(0).max(23).nullable().default(null),
  targetTape: z.stringbool().default(false),
  direction: z.enum(['up', 'down']).default('down'),
  offset,
  limit,
  of,
});
export type ShelfQuery = z.infer<typeof shelfQuery>;

/** The Shelf's question without the page and what follows from the target. */
export const shelfView = shelfQuery.omit({
  ...{ offset: true, limit: true, of: true },
  ...{ targetTempo: true, targetKey: true, targetTape: true },
});
export type ShelfView = z.infer<typeof shelfView>;

/** Measures beside the tags by which what is found is counted, with what each is narrowed by. */
export const MEASURES = [
  'kind',
  'bars',
  'meter',
  'length',
  'moves',
  'proof',
  'rating',
  'licence',
  'origin',
  'made',
] as const;
export type Measure = (typeof MEASURES)[number];

/** Lengths as they are counted: up to so many seconds. */
export const LENGTHS = [
  { words: 'under 1 s', from: 0, to: 1 },
  { words: '1–5 s', from: 1, to: 5 },
  { words: '5–15 s', from: 5, to: 15 },
  { words: '15–60 s', from: 15, to: 60 },
  { words: '1–5 min', from: 60, to: 300 },
  { words: 'over 5 min', from: 300, to: null },
] as const;

/** How many of what the Shelf's query finds have each tag, and each value of the measures. */
export const shelfFacets = z.object({
  /** False: counted in a part of many, and raised to the whole. */
  exact: z.boolean(),
  facets: z.array(z.object({ facet: z.string(), value: z.string(), count: z.number() })),
});
export type ShelfFacets = z.infer<typeof shelfFacets>;
