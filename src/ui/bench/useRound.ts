'use client';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { type Bounds, loopBounds, type LoopValue } from '@/core/rhythm/loop';
import { barTime, beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';

/** What is heard again and again. */
type Round =
  | { kind: 'bars'; bar: number; bars: number }
  | { kind: 'loop' }
  | { kind: 'stretch'; from: number; to: number }
  | { kind: 'seam' };

/** Seconds before and after the turn that are heard when the seam goes round. */
const SEAM_SECONDS = 0.5;

export interface Rounds {
  round: Round | null;
  setRound: (round: Round | null) => void;
  /** So many bars from the one that is heard now; 0 for straight on. */
  goRound: (bars: number) => void;
  /** Bounds of the sample's own loop, or null when no whole bar fits. */
  loop: Bounds | null;
  /** Bounds of what goes round now, for drawing. */
  bounds: Bounds | null;
}

/** What goes round: kept in step with the grid, and told to the engine. */
export function useRound(grid: Grid | null, settledLoop: LoopValue | null, durationSeconds: number): Rounds {
  const [round, setRound] = useState<Round | null>(null);
  const goRound = useCallback(
    (bars: number) => {
      if (!grid || bars === 0) return setRound(null);
      const at = beatPosition(grid, engine.position()) / feltBeatsPerBar(grid.meter);
      setRound({ kind: 'bars', bar: Math.max(1, Math.floor(at + 1e-6) + 1), bars });
    },
    [grid],
  );
  const loop = useMemo(
    () => (grid ? loopBounds(grid, settledLoop, durationSeconds) : null),
    [grid, settledLoop, durationSeconds],
  );
  const bounds = useMemo((): Bounds | null => {
    if (!round) return null;
    if (round.kind === 'stretch') return { start: round.from, end: round.to };
    if (round.kind !== 'bars') return loop;
    if (!grid) return null;
    const end = Math.min(durationSeconds, barTime(grid, round.bar + round.bars));
    const start = Math.max(0, barTime(grid, round.bar));
    return end - start > 0.01 ? { start, end } : null;
  }, [round, loop, grid, durationSeconds]);
  useEffect(() => {
    if (!bounds) engine.setLegs([]);
    else if (round?.kind === 'seam') {
      const half = Math.min(SEAM_SECONDS, (bounds.end - bounds.start) / 2);
      engine.setLegs([
        { start: bounds.end - half, end: bounds.end },
        { start: bounds.start, end: bounds.start + half, fades: true },
      ]);
    } else engine.setLegs([bounds]);
  }, [bounds, round?.kind]);
  return useMemo(() => ({ round, setRound, goRound, loop, bounds }), [round, goRound, loop, bounds]);
}
