'use client';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { GridMove } from './gridMoves';
import type { Bench } from './useBench';

/** Nudges in quick succession are one step of the history; it ends after this pause, ms. */
const GESTURE_PAUSE = 700;

export interface Settling {
  /** A move that belongs to a gesture of several: shown at once, settled when the gesture ends. */
  nudge: (move: GridMove) => void;
  /** Settles a move; a gesture that goes on is settled before it. */
  settle: (move: GridMove) => void;
}

export function useSettling({ settle: settleState, preview }: Bench): Settling {
  const pending = useRef<{ move: GridMove; timer: ReturnType<typeof setTimeout> } | null>(null);
  const settleMove = useCallback(
    ({ grid, pins, words, reading }: GridMove) => settleState({ grid, pins: [...pins] }, words, reading),
    [settleState],
  );
  const finish = useCallback(() => {
    if (!pending.current) return;
    clearTimeout(pending.current.timer);
    const { move } = pending.current;
    pending.current = null;
    settleMove(move);
  }, [settleMove]);
  const nudge = useCallback(
    (move: GridMove) => {
      if (pending.current) clearTimeout(pending.current.timer);
      preview(move);
      pending.current = { move, timer: setTimeout(finish, GESTURE_PAUSE) };
    },
    [preview, finish],
  );
  const settle = useCallback(
    (move: GridMove) => {
      finish();
      settleMove(move);
    },
    [finish, settleMove],
  );
  useEffect(() => finish, [finish]);
  return useMemo(() => ({ nudge, settle }), [nudge, settle]);
}
