import type { Measurement } from '@/core/measurement/schema';
import type { NewReading } from '@/contract/orders';
import { averageTempo, beatTime, feltBeatsPerBar, steadyAt, type Grid } from '@/core/rhythm/grid';
import {
  countFrom,
  moveTheOne,
  pinsMetBy,
  pullPin,
  scalePinned,
  type Pin,
  type Pinned,
} from '@/core/rhythm/pins';
import { followHits } from '@/core/rhythm/movingGrid';
import type { Onset } from '@/core/rhythm/onsets';
import { bpmText, timeText } from '@/words/figures';

/** A change of the grid (and its pins) with the words for the history and the reading that it rests on. */
export interface GridMove {
  grid: Grid;
  pins: readonly Pin[];
  words: string;
  reading?: NewReading;
}

const typed = (property: 'tempo' | 'one', value: number, detail: string): NewReading => ({
  property,
  value,
  source: 'typed',
  sureness: 0.95,
  detail,
});

export function oneMovedTo(from: Pinned, time: number): GridMove {
  return {
    ...moveTheOne(from, time),
    words: `the one to ${timeText(time)}`,
    reading: typed('one', time, 'set on the Bench'),
  };
}

/** Another beat of the same lines becomes the one. */
export function oneOnBeat(from: Pinned, beat: number): GridMove {
  const time = beatTime(from.grid, beat);
  return {
    ...countFrom(from, beat),
    words: `the one to the ${Math.abs(beat) === 1 ? '' : `${Math.abs(beat)}. `}beat ${beat > 0 ? 'after' : 'before'}`,
    reading: typed('one', time, 'bars start on another beat'),
  };
}

/** The line of a beat pinned to a place: the one tempo agrees with all pins. Throws RangeError out of reach. */
export function beatPinnedTo(from: Pinned, beat: number, time: number): GridMove {
  if (beat === 0 && !from.grid.movingBeats) return oneMovedTo(from, time);
  const next = pullPin(from, beat, time);
  const { tempoBpm } = next.grid;
  const size = feltBeatsPerBar(next.grid.meter);
  const what =
    beat % size === 0
      ? `bar ${beat / size + 1}`
      : `beat ${(beat % size) + 1} of bar ${Math.floor(beat / size) + 1}`;
  const furthest = Math.max(...next.pins.map((pin) => Math.abs(pin.beat)));
  return {
    ...next,
    words: `${what} pinned to ${timeText(time)}: ${bpmText(tempoBpm)} BPM`,
    reading: {
      property: 'tempo',
      value: tempoBpm,
      source: 'pins',
      // The place is good to about a millisecond; over many beats that makes a fine tempo.
      sureness: Math.min(0.98, 0.5 + 0.05 * furthest),
      detail: `${next.pins.length} pins, ${what} at ${timeText(time)}`,
    },
  };
}

export function tempoScaled(from: Pinned, ratio: number, words: string): GridMove {
  const next = scalePinned(from, ratio);
  const bpm = next.grid.tempoBpm;
  return { ...next, words: `${words}: ${bpmText(bpm)} BPM`, reading: typed('tempo', bpm, words) };
}

/** A grid that did not come from the pins, with those of them that it goes through. */
const withMetPins = (grid: Grid, from: Pinned | null): Pinned => ({
  grid,
  pins: pinsMetBy(grid, from?.pins ?? []),
});

export function tempoTyped(from: Pinned | null, bpm: number, onset: number): GridMove {
  return {
    ...withMetPins(from ? steadyAt(from.grid, bpm) : newGrid(bpm, onset), from),
    words: `${bpmText(bpm)} BPM typed`,
    reading: typed('tempo', bpm, 'typed on the Bench'),
  };
}

/** The fold straightened: tempo and place of the hits' columns. */
export function setUpright(from: Pinned, tempoBpm: number, one: number): GridMove {
  return {
    ...withMetPins({ ...steadyAt(from.grid, tempoBpm), one }, from),
    words: `fold straightened: ${bpmText(tempoBpm)} BPM`,
    reading: typed('tempo', tempoBpm, 'fold straightened'),
  };
}

/** What a drag in the fold did. */
export function foldDragged(from: Pinned, grid: Grid): GridMove {
  if (grid.tempoBpm === from.grid.tempoBpm && !grid.movingBeats)
    return { ...oneMovedTo(from, grid.one), grid };
  return {
    ...withMetPins(grid, from),
    words: `tempo dragged in the fold: ${bpmText(grid.tempoBpm)} BPM`,
    reading: typed('tempo', grid.tempoBpm, 'columns of the fold dragged'),
  };
}

/** A first grid where the measurement found none. */
function newGrid(bpm: number, one: number): Grid {
  return { tempoBpm: bpm, one, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
}

/** A tempo tapped along; if wanted, the first tap is the one. */
export function tapsTaken(
  from: Pinned | null,
  taps: { bpm: number; taps: number; spreadMs: number; sureness: number; first: number | null },
  onset: number,
  placesOne: boolean,
): GridMove {
  const { grid } = tempoTyped(from, taps.bpm, onset);
  const one = placesOne ? taps.first : null;
  return {
    ...withMetPins(one === null ? grid : { ...grid, one }, from),
    words: `${bpmText(taps.bpm)} BPM from ${taps.taps} taps`,
    reading: {
      property: 'tempo',
      value: taps.bpm,
      source: 'taps',
      sureness: taps.sureness,
      detail: `${taps.taps} taps, spread ${taps.spreadMs.toFixed(0)} ms`,
    },
  };
}

/** A stretch that is known to be so many beats; if wanted, it begins on the one. */
export function lengthTaken(
  from: Pinned | null,
  stretch: { from: number; to: number },
  beats: number,
  words: string,
  beginsOnOne: boolean,
): GridMove {
  const seconds = stretch.to - stretch.from;
  const bpm = (60 * beats) / seconds;
  const { grid } = tempoTyped(from, bpm, stretch.from);
  return {
    ...withMetPins(beginsOnOne ? { ...grid, one: stretch.from } : grid, from),
    words: `${words} from ${timeText(stretch.from, 3)} to ${timeText(stretch.to, 3)}: ${bpmText(bpm)} BPM`,
    reading: {
      property: 'tempo',
      value: bpm,
      source: 'length',
      // Both ends are good to about a millisecond.
      sureness: Math.max(0.3, Math.min(0.97, 1 - 0.01 / seconds - 0.1 / beats)),
      detail: `${words} in ${seconds.toFixed(4)} s`,
    },
  };
}

/** A grid from the measurement of a stretch, laid over the whole file; null when no tempo was found there. */
export function stretchMeasured(
  from: Pinned | null,
  found: Measurement,
  stretch: { from: number; to: number },
): GridMove | null {
  const { tempo, theOne, meter } = found;
  if (!tempo || theOne === null || !meter) return null;
  const words = `measured from ${timeText(stretch.from, 1)} to ${timeText(stretch.to, 1)}`;
  const grid: Grid = {
    tempoBpm: tempo.bpm,
    one: theOne,
    meter: { beatsPerBar: meter.beatsPerBar, beatUnit: meter.beatUnit },
    movingBeats: null,
  };
  return {
    ...withMetPins(grid, from),
    words: `${words}: ${bpmText(tempo.bpm)} BPM`,
    reading: {
      property: 'tempo',
      value: tempo.bpm,
      source: 'detector',
      sureness: tempo.sureness,
      detail: words,
    },
  };
}

/** Beats to both sides over which a moving grid is smoothed when nothing else is said. */
export const SMOOTH_BEATS = 8;

/** The grid lets its beats follow the hits. */
export function gridFollowing(
  from: Pinned,
  onsets: readonly Onset[],
  durationSeconds: number,
  smoothBeats: number,
): GridMove {
  const next = followHits(onsets, from.grid, durationSeconds, smoothBeats);
  const words = `grid follows the hits, ${bpmText(next.tempoBpm)} BPM on average`;
  return { ...withMetPins(next, from), words };
}

/** One tempo instead of a moving one: its average. */
export function gridSteady(from: Pinned): GridMove {
  const { grid } = from;
  const bpm = grid.movingBeats ? averageTempo(grid.movingBeats) : grid.tempoBpm;
  return { ...withMetPins(steadyAt(grid, bpm), from), words: `one tempo: ${bpmText(bpm)} BPM` };
}
