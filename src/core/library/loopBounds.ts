import { barsUntil, barTime, type Grid } from '../rhythm/grid';
import type { LoopValue } from './settled';

/** From … to, seconds of a sample. */
export interface Bounds {
  start: number;
  end: number;
}

/** Seconds of the loop that is settled, or of all whole bars. */
export function loopBounds(grid: Grid, loop: LoopValue | null, durationSeconds: number): Bounds | null {
  const { bar, bars, shiftSeconds } = loop ?? {
    bar: 1,
    bars: barsUntil(grid, durationSeconds),
    shiftSeconds: 0,
  };
  if (bars < 1) return null;
  const start = Math.max(0, barTime(grid, bar) + shiftSeconds);
  const end = Math.min(durationSeconds, barTime(grid, bar + bars) + shiftSeconds);
  return end - start > 0.01 ? { start, end } : null;
}
