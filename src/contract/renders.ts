import { z } from 'zod';
import { stepScreen } from './orders';
import { packTarget } from './pack';
import { recipe } from '@/core/recipes/recipe';
import { differences, planned } from '@/core/recipes/differences';

/** How many samples one request may have made. */
export const MOST_RENDERS = 2000;

const renderOptions = z.object({
  /** They go onto the Shelf as soon as they are made. */
  isSaved: z.boolean().default(false),
  /** The pack that they are put into as well. */
  packId: z.uuid().nullable().default(null),
  /** Where it was asked for. */
  screen: stepScreen,
});

/** Derived samples that are asked for, in one go. */
/** Recipes, by their places, of which stems of one piece are made: they keep their balance, and become a stem set. */
export const renderedSet = z.object({
  name: z.string().trim().min(1).max(300),
  recipes: z.array(z.int().min(0)).min(2).max(200),
});
export type RenderedSet = z.infer<typeof renderedSet>;

export const renderRequest = renderOptions.extend({
  recipes: z.array(recipe).min(1).max(MOST_RENDERS),
  sets: z.array(renderedSet).max(MOST_RENDERS).default([]),
});
export type RenderRequest = z.input<typeof renderRequest>;

/** Samples that are to be made at a target, each by the proposal that it is heard by. */
export const targetRenderRequest = renderOptions.extend({
  sampleIds: z.array(z.uuid()).min(1).max(MOST_RENDERS),
  target: packTarget,
  template: z.string().trim().min(1).max(200),
});
export type TargetRenderRequest = z.input<typeof targetRenderRequest>;

export const renderAnswer = z.object({ taskId: z.number() });
/** How many are being made, and how many the target leaves as they are; no task where none is made. */
export const targetRenderAnswer = z.object({
  taskId: z.number().nullable(),
  made: z.number(),
  stays: z.number(),
});

/** A sample that another was made from, or that was made from it, or from the same one. */
const relative = z.object({ sampleId: z.uuid(), name: z.string(), words: z.string(), binned: z.boolean() });

/** A blend or a pack that holds it. */
const holder = z.object({ id: z.uuid(), name: z.string() });

/** How a sample came to be, and what hangs on it. */
export const family = z.object({
  /** Null for one that arrived. */
  made: z
    .object({
      recipe,
      planned,
      differences,
      words: z.string(),
      /** The sample that it was made from, as it is called now, and whether it was settled again since. */
      parent: relative.nullable(),
      isParentChanged: z.boolean(),
    })
    .nullable(),
  /** The blend that it came of; null for any other. */
  mixed: z
    .object({ blendId: z.uuid().nullable(), name: z.string(), words: z.string(), differences })
    .nullable(),
  children: z.array(relative),
  siblings: z.array(relative),
  /** The blends that hold it. */
  blends: z.array(holder),
  /** The packs that hold it. */
  packs: z.array(holder),
});
export type Family = z.infer<typeof family>;
