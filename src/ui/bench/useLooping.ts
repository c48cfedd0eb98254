'use client';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { type Bounds, loopBounds, type LoopValue } from '@/core/rhythm/loop';
import { barTime, beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';

/** What is heard again and again. */
type LoopedPart =
  | { kind: 'bars'; bar: number; bars: number }
  | { kind: 'loop' }
  | { kind: 'stretch'; from: number; to: number }
  | { kind: 'seam' };

/** Seconds before and after the turn that are heard when the seam loops. */
const SEAM_SECONDS = 0.5;

export interface Looping {
  looped: LoopedPart | null;
  setLooped: (looped: LoopedPart | null) => void;
  /** So many bars from the one that is heard now; 0 for straight on. */
  loopBars: (bars: number) => void;
  /** Bounds of the sample's own loop, or null when no whole bar fits. */
  loop: Bounds | null;
  /** Bounds of what loops now, for drawing. */
  bounds: Bounds | null;
}

/** What loops: kept in step with the grid, and told to the engine. */
export function useLooping(
  grid: Grid | null,
  settledLoop: LoopValue | null,
  durationSeconds: number,
): Looping {
  const [looped, setLooped] = useState<LoopedPart | null>(null);
  const loopBars = useCallback(
    (bars: number) => {
      if (!grid || bars === 0) return setLooped(null);
      const at = beatPosition(grid, engine.position()) / feltBeatsPerBar(grid.meter);
      setLooped({ kind: 'bars', bar: Math.max(1, Math.floor(at + 1e-6) + 1), bars });
    },
    [grid],
  );
  const loop = useMemo(
    () => (grid ? loopBounds(grid, settledLoop, durationSeconds) : null),
    [grid, settledLoop, durationSeconds],
  );
  const bounds = useMemo((): Bounds | null => {
    if (!looped) return null;
    if (looped.kind === 'stretch') return { start: looped.from, end: looped.to };
    if (looped.kind !== 'bars') return loop;
    if (!grid) return null;
    const end = Math.min(durationSeconds, barTime(grid, looped.bar + looped.bars));
    const start = Math.max(0, barTime(grid, looped.bar));
    return end - start > 0.01 ? { start, end } : null;
  }, [looped, loop, grid, durationSeconds]);
  useEffect(() => {
    if (!bounds) engine.setSegments([]);
    else if (looped?.kind === 'seam') {
      const half = Math.min(SEAM_SECONDS, (bounds.end - bounds.start) / 2);
      engine.setSegments([
        { start: bounds.end - half, end: bounds.end },
        { start: bounds.start, end: bounds.start + half, fades: true },
      ]);
    } else engine.setSegments([bounds]);
  }, [bounds, looped?.kind]);
  return useMemo(() => ({ looped, setLooped, loopBars, loop, bounds }), [looped, loopBars, loop, bounds]);
}
