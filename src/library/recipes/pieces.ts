import type { SampleEntry } from '@/contract/entry';
import { recipe, type Recipe, type RecipeInput } from '@/core/recipes/recipe';
import { barsUntil, beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Onset } from '@/core/rhythm/onsets';
import { named, parentOf } from './aims';
import { RecipeError } from '@/core/recipes/recipeError';

/** How a sample is cut in pieces: at every so many bars, or at every hit. */
export type Pieces =
  | { at: 'bars'; bars: number; firstBar: number; lastBar: number }
  /** Hits that are at least as strong, and as far from the one before; each piece ends with the next, or after so long. */
  | { at: 'hits'; leastSeconds: number; strength: number; longestSeconds: number };

/** More at once is a mistake. */
const MOST_PIECES = 2000;
/** What is cut out between two hits is let go within this, ms. */
const LET_GO_MS = 5;

/**
 * The recipes of all pieces, named by a template and numbered from 1. Bars become loops, hits one-shots; what else the recipe says (how
 * it is written, its pitch) holds for all. Throws RecipeError where there are none, or too many.
 */
export function piecesOf(
  entry: SampleEntry,
  pieces: Pieces,
  others: Pick<RecipeInput, 'write' | 'pitch'>,
  template: string,
): Recipe[] {
  const parent = parentOf(entry);
  const { grid } = entry.settled;
  if (!parent || !grid) throw new RecipeError('Slicing needs a grid.');
  const regions =
    pieces.at === 'bars'
      ? barPieces(pieces, feltBeatsPerBar(grid.meter), barsUntil(grid, parent.durationSeconds))
      : hitPieces(pieces, entry.measurement?.onsets ?? [], parent.durationSeconds).map(({ from, to }) => ({
          from: beatPosition(grid, from),
          to: beatPosition(grid, to),
          fadeOutMs: LET_GO_MS,
        }));
  if (regions.length === 0) throw new RecipeError('No slices: nothing is long or strong enough.');
  if (regions.length > MOST_PIECES)
    throw new RecipeError(`That would be ${regions.length} slices; the limit is ${MOST_PIECES} .`);
  const kind = pieces.at === 'bars' ? 'loop' : 'oneshot';
  return regions.map((region, i) =>
    named({ ...others, parent, kind, region: recipe.shape.region.parse(region) }, entry, template, i + 1),
  );
}

function barPieces({ bars, firstBar, lastBar }: Extract<Pieces, { at: 'bars' }>, size: number, most: number) {
  const regions: { from: number; to: number }[] = [];
  for (let bar = firstBar; bar + bars - 1 <= Math.min(lastBar, most); bar += bars)
    regions.push({ from: (bar - 1) * size, to: (bar - 1 + bars) * size });
  return regions;
}

function hitPieces(
  { leastSeconds, strength, longestSeconds }: Extract<Pieces, { at: 'hits' }>,
  onsets: readonly Onset[],
  duration: number,
) {
  const hits: number[] = [];
  for (const onset of onsets)
    if (onset.strength >= strength && onset.time - (hits[hits.length - 1] ?? -Infinity) >= leastSeconds)
      hits.push(onset.time);
  return hits.flatMap((from, i) => {
    const to = Math.min(hits[i + 1] ?? duration, from + longestSeconds, duration);
    return to - from > 0.03 ? [{ from, to }] : [];
  });
}
