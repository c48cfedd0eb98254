import { z } from 'zod';
import { barsUntil, barTime, type Grid } from './grid';

/**
 * Where the sample loops: `bars` whole bars from bar `bar` of the grid, both ends moved by
 * `shiftSeconds` (to a quiet place near the bar lines, so that the length stays that of the bars).
 */
export const loopValue = z.object({
  bar: z.int(),
  bars: z.int().min(1).max(1024),
  shiftSeconds: z.number().min(-0.05).max(0.05),
});
export type LoopValue = z.infer<typeof loopValue>;

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
