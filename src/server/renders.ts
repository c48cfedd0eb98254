import { exportWords } from '@/words/exports';
import { renderPlanOf } from '@/core/recipes/renderPlan';
import { RecipeError } from '@/core/recipes/recipeError';
import pLimit from 'p-limit';
import type { z } from 'zod';
import { recipeAtTarget } from '@/library/recipes/aims';
import type { SampleSummary } from '@/contract/entry';
import {
  renderRequest,
  targetRenderRequest,
  type Family,
  type RenderedSet,
  type targetRenderAnswer,
} from '@/contract/renders';
import { targetName } from '@/library/packs/contents';
import { recipeWords } from '@/core/recipes/recipeWords';
import { sameGrid } from '@/core/rhythm/grid';
import { blendStore, readMix } from '@/store/blends';
import { beginStep } from '@/store/bulkSteps';
import { readCurator } from '@/store/curators';
import { database } from '@/store/database';
import { packStore } from '@/store/packs';
import { makeTask } from '@/store/longTasks';
import { childrenOf, readRecipe } from '@/store/recipes';
import { readEntryOf } from '@/store/entries';
import type { Actor } from './change';
import { log } from './log';
import { once } from './once';
import { packNow } from './packs';
import { UserError } from './userError';

/** Where no rate is known (a performance is played at it). */
const PLAYED_RATE = 44_100;

/**
 * Puts the making of derived samples into the queue, one after the other, as one step that can be undone. Each recipe is thought
 * through first: one that cannot be followed refuses all of them with its reason.
 */
export async function makeRenders(input: unknown, actor: Actor): Promise<{ taskId: number }> {
  const { recipes, sets, isSaved, packId, screen } = renderRequest.parse(input);
  if (sets.some((set) => set.recipes.some((index) => index >= recipes.length)))
    throw new UserError('A stem set names a recipe that was not sent.', 400);
  let seconds = 0;
  for (const recipe of recipes) {
    const { durationSeconds } = recipe.parent;
    try {
      const { length, rate } = renderPlanOf(recipe, Math.round(durationSeconds * PLAYED_RATE), PLAYED_RATE);
      seconds += length / rate;
    } catch (error) {
      if (!(error instanceof RecipeError)) throw error;
      throw new UserError(`“${recipe.name}”: ${error.message}`, 422);
    }
  }
  if (packId) await packNow(packId);
  const { curatorId } = await readCurator(database(), actor);
  const count = recipes.length;
  const words = count === 1 ? `rendering “${recipes[0].name}”` : `rendering ${count} samples`;
  const items = recipes.map(({ name }, i) => ({
    ...{ name, folder: '', path: String(i), byteLength: 1000, modifiedMs: null },
  }));
  const taskId = await once(async (client) => {
    const made = count === 1 ? `rendered “${recipes[0].name}”` : `${count} samples rendered`;
    const stepId = await beginStep(client, { words: made, action: { do: 'restore' }, curatorId, screen });
    const payload = { recipes, sets, curatorId, stepId, isSaved, packId };
    return makeTask(client, 'render', words, payload, items, seconds);
  });
  log.info({ event: 'renders asked for', task: taskId, count });
  return { taskId };
}

/** Stems of one joined set that are made in one go are a set again. */
function setsOf(
  stemSets: readonly SampleSummary['stemSet'][],
  nameOf: (name: string) => string,
): RenderedSet[] {
  const sets = new Map<string, RenderedSet>();
  stemSets.forEach((one, index) => {
    if (one?.state !== 'joined') return;
    const set = sets.get(one.setId) ?? { name: nameOf(one.name).slice(0, 300), recipes: [] };
    set.recipes.push(index);
    sets.set(one.setId, set);
  });
  return [...sets.values()].filter(({ recipes }) => recipes.length > 1);
}

/** Entries that are read at once. */
const READ_AT_ONCE = 4;

/**
 * Puts the making of samples at a target into the queue: their recipes are written here, from what is settled of them now. Those that the
 * target leaves as they are, and those that are not measured yet, are counted.
 */
export async function makeAtTarget(
  input: unknown,
  actor: Actor,
): Promise<z.infer<typeof targetRenderAnswer>> {
  const { sampleIds, target, template, isSaved, packId, screen } = targetRenderRequest.parse(input);
  const reading = pLimit(READ_AT_ONCE);
  const found = await Promise.all(
    sampleIds.map((sampleId) =>
      reading(async () => {
        const entry = await readEntryOf(database(), sampleId);
        try {
          const recipe = entry && recipeAtTarget(entry, target, { ...target, template });
          return recipe && { recipe, stemSet: entry.summary.stemSet };
        } catch (error) {
          if (!(error instanceof RecipeError)) throw error;
          throw new UserError(`“${entry!.summary.name}”: ${error.message}`, 422);
        }
      }),
    ),
  );
  const wanted = found.filter((one) => one !== null);
  const stays = sampleIds.length - wanted.length;
  if (wanted.length === 0) return { taskId: null, made: 0, stays };
  const sets = setsOf(
    wanted.map(({ stemSet }) => stemSet),
    (name) => `${name} at ${targetName(target)}`,
  );
  const recipes = wanted.map(({ recipe }) => recipe);
  const { taskId } = await makeRenders({ recipes, sets, isSaved, packId, screen }, actor);
  return { taskId, made: wanted.length, stays };
}

/** How a sample came to be, what was made of it, what else was made of its parent, and which blends and packs hold it. */
export async function familyOf(sampleId: string): Promise<Family> {
  const [kept, children, mix, blends, packs] = await Promise.all([
    readRecipe(sampleId),
    childrenOf(sampleId),
    readMix(sampleId),
    blendStore.holding(sampleId),
    packStore.holding(sampleId),
  ]);
  const mixed = mix && {
    ...{ blendId: mix.blendId, name: mix.state.name, differences: mix.differences },
    words: exportWords(mix.outcome, mix.state.name),
  };
  const told = (one: (typeof children)[number]) => ({
    ...{ sampleId: one.sampleId, name: one.name, binned: one.binned },
    words: one.recipe
      ? recipeWords(one.recipe)
      : one.outcome && one.blend
        ? exportWords(one.outcome, one.blend)
        : '',
  });
  if (!kept) return { made: null, mixed, children: children.map(told), siblings: [], blends, packs };
  const { recipe, planned, differences } = kept;
  const parentId = recipe.parent.sampleId;
  const [parent, siblings] = await Promise.all([readEntryOf(database(), parentId), childrenOf(parentId)]);
  const { grid } = recipe.parent;
  const now = parent?.settled.grid ?? null;
  return {
    made: {
      ...{ recipe, planned, differences, words: recipeWords(recipe) },
      parent: parent && { sampleId: parentId, name: parent.summary.name, words: '', binned: false },
      isParentChanged:
        parent !== null && (grid === null ? now !== null : now === null || !sameGrid(grid, now)),
    },
    mixed,
    children: children.map(told),
    siblings: siblings.filter((one) => one.sampleId !== sampleId).map(told),
    blends,
    packs,
  };
}
