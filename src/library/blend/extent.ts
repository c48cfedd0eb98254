import { beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Score } from './score';

/** What of a blend is rendered: from here … to, seconds from bar 1: whole bars, as many before bar 1 as a pickup takes. */
export function extentOf({ grid, seconds, begins, lanes }: Score): {
  from: number;
  to: number;
  barsBefore: number;
} {
  const size = feltBeatsPerBar(grid.meter);
  let barsBefore = 0;
  while (beatTime(grid, -barsBefore * size) > begins + 1e-6) barsBefore++;
  // What rings on over the last bar line is not cut off.
  const ends = lanes.flatMap(({ parts }) => parts.map(({ until }) => until));
  return { from: beatTime(grid, -barsBefore * size), to: Math.max(seconds, ...ends), barsBefore };
}
