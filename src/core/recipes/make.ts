import type { Progress } from '../timeStretch/progress';
import { timeStretch } from '../timeStretch/voice';
import type { Recipe } from './recipe';
import { composed, readOf, type Made } from './compose';
import type { RenderPlan } from './renderPlan';

/**
 * Follows a recipe: what its plan reads of the parent (`making.size` frames of each channel) becomes the result. Tells how far it is,
 * step by step. Throws RecipeError where it would be too loud and is not to be made quieter.
 */
export function* renderPlan(
  source: readonly Float32Array[],
  plan: RenderPlan,
  recipe: Recipe,
): Generator<Progress, Made, void> {
  const fitted = source.map(() => new Float32Array(plan.timeStretch.length));
  yield* timeStretch(source, plan.timeStretch, fitted);
  return composed(fitted, plan, recipe);
}

/** Made at once: for what is short, and for tests. */
export function madeOf(parent: readonly Float32Array[], plan: RenderPlan, recipe: Recipe): Made {
  const steps = renderPlan(readOf(parent, plan), plan, recipe);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as Made;
  }
}
