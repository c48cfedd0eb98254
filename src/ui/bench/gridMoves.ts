import type { SettleChange } from '@/core/library/entry';
import {
  beatPosition,
  feltBeatsPerBar,
  moveOne,
  pullBeat,
  scaleTempo,
  steadyAt,
  type Grid,
} from '@/core/rhythm/grid';
import { bpmText, timeText } from '../pieces/figures';

/** A change of the grid with the words for the history and the reading that it rests on. */
export interface GridMove {
  grid: Grid;
  words: string;
  reading?: NonNullable<SettleChange['reading']>;
}

export function oneMovedTo(grid: Grid, time: number): GridMove {
  return {
    grid: moveOne(grid, time),
    words: `the one to ${timeText(time)}`,
    reading: { property: 'one', value: time, source: 'typed', sureness: 0.95, detail: 'set on the Bench' },
  };
}

/** The line of bar `bar` pulled onto `time`: the one stays, the one tempo changes. Throws RangeError out of reach. */
export function barPulledTo(grid: Grid, bar: number, time: number): GridMove {
  const beat = (bar - 1) * feltBeatsPerBar(grid.meter);
  const pulled = pullBeat(grid, beat, time);
  // The place is good to about a millisecond; over many beats that makes a fine tempo.
  const sureness = Math.min(0.98, 0.5 + 0.05 * Math.abs(beat));
  return {
    grid: pulled,
    words: `bar ${bar} pulled to ${timeText(time)}: ${bpmText(pulled.tempoBpm)} BPM`,
    reading: {
      property: 'tempo',
      value: pulled.tempoBpm,
      source: 'pins',
      sureness,
      detail: `bar ${bar} at ${timeText(time)}`,
    },
  };
}

export function tempoScaled(grid: Grid, ratio: number, words: string): GridMove {
  const scaled = scaleTempo(grid, ratio);
  return {
    grid: scaled,
    words: `${words}: ${bpmText(scaled.tempoBpm)} BPM`,
    reading: { property: 'tempo', value: scaled.tempoBpm, source: 'typed', sureness: 0.95, detail: words },
  };
}

export function tempoTyped(grid: Grid | null, bpm: number, onset: number): GridMove {
  const next = grid ? steadyAt(grid, bpm) : newGrid(bpm, onset);
  return {
    grid: next,
    words: `${bpmText(bpm)} BPM typed`,
    reading: { property: 'tempo', value: bpm, source: 'typed', sureness: 0.95, detail: 'typed on the Bench' },
  };
}

/** A first grid where the measurement found none. */
export function newGrid(bpm: number, one: number): Grid {
  return { tempoBpm: bpm, one, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
}

/** Whole bars that fit between the one and a time. */
export function barsUntil(grid: Grid, time: number): number {
  return Math.max(0, Math.floor((beatPosition(grid, time) + 0.05) / feltBeatsPerBar(grid.meter)));
}
