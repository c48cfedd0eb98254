import { z } from 'zod';
import { sampleKind } from '../measurement/schema';
import { NEED_SORTS } from '../readings/needsALook';
import { sampleSummary } from './entry';

const numberParam = z.coerce.number();

/** How the Intake is asked. */
export const intakeQuery = z.object({
  show: z
    .enum(['all', 'needs a look', ...NEED_SORTS, 'sure', 'measuring', 'faulty', 'not saved', 'saved', 'bin'])
    .default('all'),
  kind: z.union([sampleKind, z.literal('')]).default(''),
  text: z.string().max(200).default(''),
  sort: z.enum(['arrived', 'name', 'kind', 'length', 'tempo', 'key', 'standing', 'need']).default('need'),
  direction: z.enum(['up', 'down']).default('down'),
  offset: numberParam.int().min(0).default(0),
  limit: numberParam.int().min(1).max(500).default(200),
});
export type IntakeQuery = z.infer<typeof intakeQuery>;

export const intakePage = z.object({ total: z.number(), rows: z.array(sampleSummary) });
export type IntakePage = z.infer<typeof intakePage>;

/** How many there are under each choice of `show`, within the text and the kind that are asked for. */
export const intakeCounts = z.record(z.string(), z.number());
export type IntakeCounts = z.infer<typeof intakeCounts>;

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
  kind: z.string().max(20).nullable().default(null),
  tags: z
    .array(z.string().regex(/^[a-z ]+:.{1,40}$/))
    .max(40)
    .default([]),
  sort: z.enum(['saved', 'name', 'tempo', 'key', 'length', 'rating']).default('saved'),
  direction: z.enum(['up', 'down']).default('down'),
  offset: numberParam.int().min(0).default(0),
  limit: numberParam.int().min(1).max(500).default(200),
});
export type ShelfQuery = z.infer<typeof shelfQuery>;

export const shelfPage = z.object({
  total: z.number(),
  rows: z.array(sampleSummary),
  facets: z.array(z.object({ facet: z.string(), value: z.string(), count: z.number() })),
  kinds: z.array(z.object({ kind: z.string(), count: z.number() })),
});
export type ShelfPage = z.infer<typeof shelfPage>;
