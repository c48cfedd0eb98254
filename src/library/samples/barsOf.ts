import type { Measurement } from '@/core/measurement/schema';
import { barsUntil, type Grid } from '@/core/rhythm/grid';

/** A tempo so near to the measured one counts the same bars. */
const SAME_TEMPO = 0.005;

/**
 * How many bars a sample has: as many as were measured, which leaves out what is before and behind the music, unless its settled
 * grid counts otherwise; then those that fit, of a performance those that a note begins in.
 */
export function barsOf(
  grid: Grid | null,
  measurement: Measurement | null,
  durationSeconds: number | null,
): number | null {
  if (!grid) return measurement?.bars ?? null;
  const { tempo, meter, bars } = measurement ?? {};
  const isAsMeasured =
    tempo &&
    meter?.beatsPerBar === grid.meter.beatsPerBar &&
    meter.beatUnit === grid.meter.beatUnit &&
    Math.abs(grid.tempoBpm / tempo.bpm - 1) < SAME_TEMPO;
  if (isAsMeasured && bars) return bars;
  // The last bar of a performance is one, however long its last note is held.
  const last = measurement?.kind === 'midi' ? measurement.onsets.at(-1) : undefined;
  if (last) return barsUntil(grid, last.time) + 1;
  return durationSeconds === null ? null : barsUntil(grid, durationSeconds);
}
