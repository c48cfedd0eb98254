import { timeMap, type TimeMap } from '../timeStretch/timeMap';
import { lastNotAfter } from '../math/bisect';
import type { MovedHit } from './hitMoves';
import { RecipeError } from './recipeError';

/**
 * The map with knots at the hits: those that are moved stand where they are to, all others where they stood. Throws RecipeError
 * where a hit would have to go before another.
 */
export function bentBy(moved: readonly MovedHit[], map: TimeMap, size: number, length: number): TimeMap {
  if (moved.every(({ from, to }) => Math.abs(to - from) < 1e-7)) return map;
  const knots = new Map<number, number>([[0, 0]]);
  const inside = moved.filter(({ at }) => at > 1e-4 && at < size - 1e-4);
  for (const { at, to } of inside) knots.set(at, to);
  // Knots of the map hold where no hit is near: the line between two hits is theirs.
  const times = inside.map(({ at }) => at).sort((a, b) => a - b);
  map.source.forEach((at, i) => {
    const before = lastNotAfter(times, at);
    const isNear = [times[before], times[before + 1]].some((time) => Math.abs(time - at) < 0.05);
    if (!isNear) knots.set(at, map.result[i]);
  });
  knots.set(size, length);
  const sorted = [...knots].sort(([a], [b]) => a - b);
  return rising(sorted);
}

function rising(knots: readonly [number, number][]): TimeMap {
  for (let i = 1; i < knots.length; i++)
    if (knots[i][1] <= knots[i - 1][1])
      throw new RecipeError(
        `The hit at ${knots[i][0].toFixed(2)} s would stand before the one in front of it; move it less.`,
      );
  return timeMap(
    knots.map(([at]) => at),
    knots.map(([, to]) => to),
  );
}
