import { z } from 'zod';
import { blend } from './blend';
import { mixRequest } from './mix';
import { MOST_IN_PACK, pack, packPaths } from './pack';
import { renderedSet } from './renders';
import { recipe } from '@/core/recipes/recipe';
import { measureRequest } from './measuring';

export const TASK_STATES = ['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** What each kind of task is told. */
export const TASK_PAYLOADS = {
  /** Measures one sample. */
  measure: measureRequest,
  /** Unpacks an archive that was imported; its files come into `folder`. */
  unpack: z.object({
    originalId: z.number(),
    folder: z.string(),
    /** For an archive inside of another one: how deep it lies, and what may still come out of the whole tree. */
    within: z.object({ depth: z.int(), files: z.int(), bytes: z.number() }).optional(),
  }),
  /** Takes files of a folder in. */
  bring: z.object({ placeId: z.number() }),
  /** Fetches files of a delivery. */
  fetch: z.object({ packId: z.string() }),
  /** Makes derived samples; each of its files is one of the recipes. */
  render: z.object({
    recipes: z.array(recipe).min(1).max(2000),
    sets: z.array(renderedSet).default([]),
    /** Who asked for it. */
    curatorId: z.uuid().nullable(),
    /** The step by which all of it is undone. */
    stepId: z.number(),
    /** What is made goes onto the Shelf. */
    isSaved: z.boolean(),
    packId: z.uuid().nullable().default(null),
  }),
  /** Makes what is exported of a blend; each of its files is one of the outcomes. */
  mix: mixRequest.extend({
    blendId: z.uuid(),
    /** As it was when it was asked for. */
    state: blend,
    curatorId: z.uuid().nullable(),
    stepId: z.number(),
  }),
  /** Writes a pack; each of its files is one of the samples. */
  pack: z.object({
    writingId: z.number(),
    /** As it was when it was asked for. */
    state: pack,
    lines: z
      .array(z.object({ sampleId: z.uuid(), paths: packPaths }))
      .min(1)
      .max(MOST_IN_PACK),
  }),
} as const satisfies Record<string, z.ZodType>;
export type TaskKind = keyof typeof TASK_PAYLOADS;
export type Payload<K extends TaskKind> = z.infer<(typeof TASK_PAYLOADS)[K]>;

/** Kinds that have files of their own and are shown one by one. */
export const LONG_KINDS = [
  'unpack',
  'bring',
  'fetch',
  'render',
  'mix',
  'pack',
] as const satisfies readonly TaskKind[];
/** Those of them that make sound. */
export const MAKING_KINDS = ['render', 'mix', 'pack'] as const satisfies readonly TaskKind[];
/** Those of them that bring files in. */
export const BRINGING_KINDS = ['unpack', 'bring', 'fetch'] as const satisfies readonly TaskKind[];
export type LongKind = (typeof LONG_KINDS)[number];

/** A long task, as the screens show it. */
export const longTask = z.object({
  taskId: z.number(),
  kind: z.enum(LONG_KINDS),
  words: z.string(),
  state: z.enum(TASK_STATES),
  fault: z.string().nullable(),
  /** When it ended, ISO text; null while it goes on. */
  endedAt: z.string().nullable(),
  files: z.number(),
  done: z.number(),
  failed: z.number(),
  bytes: z.number(),
  received: z.number(),
  /** Files that did not come in, with the reason; some of them. */
  faults: z.array(z.object({ name: z.string(), fault: z.string() })),
  /** Something of it failed that may come in when it is tried again. */
  canBeRetried: z.boolean(),
  /** Samples that came of it, the first of them. */
  made: z.array(z.object({ sampleId: z.uuid(), name: z.string() })),
  /** The file that is coming in. */
  current: z.string().nullable(),
});
export type LongTask = z.infer<typeof longTask>;

/** What can be done with a task. `retry`: what failed of it is tried again; `forget`: it is gone from the list. */
const TASK_MOVES = ['pause', 'resume', 'cancel', 'retry', 'forget'] as const;
export type TaskMove = (typeof TASK_MOVES)[number];
export const taskMove = z.object({ do: z.enum(TASK_MOVES) });

/** How far measuring has come, and how fast it goes. */
export const measuringState = z.object({
  waiting: z.number(),
  running: z.number(),
  paused: z.boolean(),
  /** Samples that were measured in the last minute of work, and how long that was, seconds. */
  doneLately: z.number(),
  secondsLately: z.number(),
  /** What the rest takes by what its formats have cost so far, seconds; null before that can be believed. */
  secondsLeft: z.number().nullable(),
});
export type MeasuringState = z.infer<typeof measuringState>;
