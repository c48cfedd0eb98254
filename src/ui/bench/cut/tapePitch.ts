import type { Recipe } from '@/core/recipes/recipe';
import type { Grid } from '@/core/rhythm/grid';

/** The transposition of a render of which pitch follows speed. */
export const tapePitch = (
  grid: Grid | null,
  { tempoBpm, level }: Pick<Recipe['time'], 'tempoBpm' | 'level'>,
): Pick<Recipe['pitch'], 'semitones' | 'cents'> => ({
  semitones: grid && tempoBpm ? 12 * Math.log2(tempoBpm / (grid.tempoBpm * level)) : 0,
  cents: 0,
});
