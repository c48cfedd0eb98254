import type { SettledState } from '@/contract/settled';
import type { Measurement } from '@/core/measurement/schema';
import { moveOne, steadyAt, type Grid } from '@/core/rhythm/grid';
import { pinsMetBy } from '@/core/rhythm/pins';
import type { ReadingValue } from '@/core/readings/reading';
import type { StoredReading } from '@/contract/entry';

/**
 * The parts of the settled state that change when a reading is chosen. A tempo keeps the one where it is;
 * the detector's own moving tempo brings its beats back. Where there is no grid yet, a tempo makes one of
 * 4/4 at the measured one. Readings of the one or the time signature change nothing without a grid.
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
      return withMetPins(
        moving
          ? { ...base, tempoBpm: reading.value, movingBeats: measured.beats }
          : steadyAt(base, reading.value),
        state.pins,
      );
    }
    case 'one':
      return grid ? withMetPins(moveOne(grid, reading.value), state.pins) : {};
    case 'meter':
      return grid ? { grid: { ...grid, meter: reading.value } } : {};
    case 'key':
      return { key: reading.value };
    case 'tuning':
      return { tuningCents: reading.value };
  }
}

/** A grid that was not fitted to the pins, with those of them that it goes through. */
function withMetPins(grid: Grid, pins: SettledState['pins']): Partial<SettledState> {
  const met = pinsMetBy(grid, pins);
  return met.length === pins.length ? { grid } : { grid, pins: met };
}

/**
 * Settles readings one after the other: what changes of the settled state, and that these were chosen. Where there
 * is no grid yet a tempo makes one, so it comes before the others.
 */
export function settleReadings(
  state: SettledState,
  readings: readonly StoredReading[],
  measured: Measurement | null,
): Partial<SettledState> {
  return readings.reduce<Partial<SettledState>>(
    (patch, reading) => ({
      ...patch,
      ...applyReading({ ...state, ...patch }, reading, measured),
      chosen: { ...(patch.chosen ?? state.chosen), [reading.property]: reading.readingId },
    }),
    {},
  );
}

/**
 * A reading with those that go with it where a whole sample is settled at once: stems begin together, so that one
 * takes from its set where the bars stand and what they are, and not the tempo alone.
 */
export function withItsGrid(
  reading: StoredReading,
  readings: readonly StoredReading[],
): readonly StoredReading[] {
  if (reading.source !== 'stem set' || reading.property !== 'tempo') return [reading];
  const told = readings.filter(
    ({ source, property, superseded }) =>
      source === 'stem set' && !superseded && (property === 'one' || property === 'meter'),
  );
  return [reading, ...told];
}
