import type { SettledState } from './settled';
import type { Measurement } from '../measurement/schema';
import { moveOne, steadyAt } from '../rhythm/grid';
import type { ReadingValue } from '../readings/reading';

/**
 * The parts of the settled state that change when a reading is chosen. A tempo keeps the one where it is;
 * the detector's own moving tempo brings its beats back. Where there is no grid yet, a tempo makes one of
 * 4/4 at the measured one. Readings of the one or the meter change nothing without a grid.
 */
export function applyReading(
  state: SettledState,
  reading: ReadingValue & { source: string; rank: number },
  measured: Measurement | null,
): Partial<SettledState> {
  const { grid } = state;
  switch (reading.property) {
    case 'tempo': {
      const base = grid ?? {
        tempoBpm: reading.value,
        one: measured?.theOne ?? 0,
        meter: { beatsPerBar: 4, beatUnit: 4 },
        movingBeats: null,
      };
      const moving =
        reading.source === 'detector' && reading.rank === 0 && measured?.tempo && !measured.tempo.steady;
      return {
        grid: moving
          ? { ...base, tempoBpm: reading.value, movingBeats: measured.beats }
          : steadyAt(base, reading.value),
      };
    }
    case 'one':
      return grid ? { grid: moveOne(grid, reading.value) } : {};
    case 'meter':
      return grid ? { grid: { ...grid, meter: reading.value } } : {};
    case 'key':
      return { key: reading.value };
    case 'tuning':
      return { tuningCents: reading.value };
  }
}
