'use client';
import { useMemo } from 'react';
import type { GridMove } from './gridMoves';
import type { Bench } from './useBench';

export interface Settling {
  /** A move that belongs to a gesture of several: shown at once, settled when the gesture ends. */
  nudge: (move: GridMove) => void;
  /** Settles a move. */
  settle: (move: GridMove) => void;
}

/** How moves of the grid are settled. */
export function useSettling({ settle, nudge }: Bench): Settling {
  return useMemo(
    () => ({
      nudge,
      settle: ({ grid, pins, words, reading }) => settle({ grid, pins: [...pins] }, words, reading),
    }),
    [settle, nudge],
  );
}
