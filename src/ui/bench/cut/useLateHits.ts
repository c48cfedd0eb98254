'use client';
import { useCallback, useMemo, useState } from 'react';
import { hitsOffGrid, type OffGrid } from '@/core/rhythm/offGrid';
import type { RenderPlan } from '@/core/recipes/renderPlan';
import type { Bench } from '../useBench';
import type { Cut } from './useCut';

/** Hits of the range that stand off the grid, walked from the worst on. */
export interface LateHits {
  all: readonly OffGrid[];
  /** The one in hand; null: none. */
  inHand: OffGrid | null;
  isMoved: (hit: OffGrid) => boolean;
  next: () => void;
  /** The one in hand goes onto the grid, or back to where it was played. */
  toggle: () => void;
  /** All of them go onto the grid. */
  moveAll: () => void;
  leave: () => void;
}

/** Two times of one hit, seconds. */
export const SAME_HIT = 0.004;

/** How much longer the result is where a hit stands. */
function stretchAt({ moved, first, rate }: RenderPlan, time: number): number {
  const at = time - first / rate;
  const i = Math.min(
    moved.findIndex((hit) => Math.abs(hit.at - at) < SAME_HIT),
    moved.length - 2,
  );
  if (i < 0) return 1;
  const [here, there] = [moved[i], moved[i + 1]];
  return (there.from - here.from) / (there.at - here.at);
}

export function useLateHits({ grid }: Bench, { renderPlan, draft, change }: Cut): LateHits {
  const [at, setAt] = useState<number | null>(null);
  const all = useMemo(() => {
    if (!renderPlan || !grid) return [];
    const { moved, first, rate } = renderPlan;
    return hitsOffGrid(
      moved.map((hit) => first / rate + hit.at),
      grid,
    );
  }, [renderPlan, grid]);
  const inHand = all.find(({ time }) => at !== null && Math.abs(time - at) < SAME_HIT) ?? null;
  const { hits } = draft;
  const isMoved = useCallback(
    (hit: OffGrid) => hits.moves.some((move) => Math.abs(move.at - hit.time) < SAME_HIT),
    [hits.moves],
  );
  return useMemo(() => {
    const moveOf = ({ time, ms }: OffGrid) => ({
      at: time,
      ms: renderPlan ? Math.round(-1000 * ms * stretchAt(renderPlan, time)) / 1000 : 0,
    });
    const without = (some: readonly OffGrid[]) =>
      hits.moves.filter((move) => !some.some(({ time }) => Math.abs(time - move.at) < SAME_HIT));
    const set = (moves: typeof hits.moves) =>
      change({ hits: { ...hits, moves: moves.toSorted((a, b) => a.at - b.at) } });
    return {
      ...{ all, inHand, isMoved },
      next: () =>
        setAt(all.length === 0 ? null : all[inHand ? (all.indexOf(inHand) + 1) % all.length : 0].time),
      toggle: () => {
        if (!inHand) return;
        set(isMoved(inHand) ? without([inHand]) : [...without([inHand]), moveOf(inHand)]);
      },
      moveAll: () => set([...without(all), ...all.map(moveOf)]),
      leave: () => setAt(null),
    };
  }, [all, inHand, isMoved, hits, renderPlan, change]);
}
