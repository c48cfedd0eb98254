import type { Plan } from '@/core/timeStretch/plan';
import { bentBy } from '@/core/recipes/bentBy';
import { feelOf, movedHits } from '@/core/recipes/hitMoves';
import { RecipeError } from '@/core/recipes/recipeError';
import type { Feel } from '@/core/recipes/recipe';
import type { Grid } from '@/core/rhythm/grid';
import { gridWithin, hitsOf, type LaneScore, type Part } from './parts';

/** Parts of a beat that a feel tells apart. */
const PARTS = 4;

/** The parts of a lane with the timing of the lane that it takes it from, laid on its hits by its share. */
export function felt(score: LaneScore, all: readonly LaneScore[], grid: Grid): Part[] {
  const { lane, parts, remarks } = score;
  const of = lane.feel && all.find((other) => other.lane.laneId === lane.feel!.of && other !== score);
  if (!of || !lane.feel || lane.feel.share === 0) return parts;
  const feel = feelOf(hitsOf(of), grid, PARTS, of.lane.name);
  const { share } = lane.feel;
  const done = new Map<Plan, Plan>();
  return parts.map((part) => {
    let plan = done.get(part.plan);
    if (!plan) {
      plan = withFeel(part.plan, gridWithin(grid, part), feel, share, remarks);
      done.set(part.plan, plan);
    }
    return { ...part, plan };
  });
}

function withFeel(plan: Plan, grid: Grid, feel: Feel, feelShare: number, remarks: string[]): Plan {
  const moves = { moves: [], pull: 0, parts: PARTS, windowMs: 60, swing: null, feel, feelShare };
  try {
    const moved = movedHits(plan.hits, plan.map, grid, moves);
    return { ...plan, map: bentBy(moved, plan.map, plan.to - plan.from, plan.seconds) };
  } catch (error) {
    if (!(error instanceof RecipeError)) throw error;
    remarks.push(`groove not applied: ${error.message}`);
    return plan;
  }
}
