import { z } from 'zod';
import { fitLine, medianSlope, residuals, robustLine } from '../math/lines';
import { median } from '../math/median';
import { averageTempo, beatTime, moveOne, scaleTempo, type Grid } from './grid';

/** A beat of the grid (counted from the one, which is 0) fixed to a place in the audio by hand, seconds. */
export const pinValue = z.object({ beat: z.number(), time: z.number() });
export type Pin = z.infer<typeof pinValue>;

export interface PinFit {
  tempoBpm: number;
  one: number;
  /** Pin minus fitted line, ms, in the order of the pins. */
  residualsMs: number[];
}

/** How far a pin may lie from the others' line before it counts less, in median distances. */
const TUKEY = 5;

/**
 * The one tempo and the one that agree best with all pins: a line of their times over their beats. From
 * four pins on it is robust (Tukey's biweight begun at the line of the median slopes, Sen 1968), so that a
 * single misplaced pin does not turn the grid. Throws RangeError for fewer than two different beats and for
 * tempi outside 10–1000 BPM.
 */
export function fitPins(pins: readonly Pin[]): PinFit {
  if (new Set(pins.map(({ beat }) => beat)).size < 2)
    throw new RangeError('two pins on different beats make a tempo');
  const beats = pins.map(({ beat }) => beat);
  const times = pins.map(({ time }) => time);
  let line = fitLine(beats, times);
  if (pins.length >= 4) {
    const slope = medianSlope(beats, times, 0)!;
    const start = { slope, intercept: median(times.map((time, i) => time - slope * beats[i])) };
    line = robustLine(beats, times, start, { reach: TUKEY, least: 0.0005, passes: 5 });
  }
  const tempoBpm = 60 / line.slope;
  if (!(tempoBpm >= 10 && tempoBpm <= 1000))
    throw new RangeError(`a tempo of ${tempoBpm} BPM is out of reach`);
  return {
    tempoBpm,
    one: line.intercept,
    residualsMs: residuals(line, beats, times).map((r) => 1000 * r),
  };
}

/**
 * Bends a moving grid onto pins: each pinned beat goes to its pin, beats between two pins are carried along
 * in proportion, those beyond the outermost pins by as much as these. Throws RangeError when beats would
 * change places.
 */
export function bendToPins(grid: Grid, pins: readonly Pin[]): Grid {
  if (!grid.movingBeats || pins.length === 0) return grid;
  const sorted = [...pins].sort((a, b) => a.beat - b.beat);
  const shifts = sorted.map(({ beat, time }) => time - beatTime(grid, beat));
  const shiftAt = (beat: number): number => {
    const after = sorted.findIndex((pin) => pin.beat >= beat);
    if (after < 0) return shifts[shifts.length - 1];
    if (after === 0) return shifts[0];
    const [a, b] = [sorted[after - 1].beat, sorted[after].beat];
    const share = (beat - a) / (b - a);
    return shifts[after - 1] * (1 - share) + shifts[after] * share;
  };
  const oneAt = nearestIndex(grid.movingBeats, grid.one);
  const beats = grid.movingBeats.map((time, i) => time + shiftAt(i - oneAt));
  for (let i = 1; i < beats.length; i++)
    if (!(beats[i] > beats[i - 1])) throw new RangeError('a beat may not pass its neighbours');
  return { ...grid, movingBeats: beats, one: beats[oneAt], tempoBpm: averageTempo(beats) };
}

/** A grid with the pins that belong to it. */
export interface Pinned {
  grid: Grid;
  pins: readonly Pin[];
}

/**
 * Pins beat `beat` to `time`. A steady grid takes the one tempo (and, from three pins on, the one) that agrees
 * best with all pins; the first pin away from the one pins the one where it stands, so that it stays. A moving
 * grid is bent. Never makes a tempo change. Throws RangeError out of reach.
 */
export function pullPin({ grid, pins }: Pinned, beat: number, time: number): Pinned {
  if (beat === 0 && !grid.movingBeats) return moveTheOne({ grid, pins }, time);
  const all = withPin(pins.length > 0 ? pins : [{ beat: 0, time: grid.one }], { beat, time });
  if (grid.movingBeats) return { grid: bendToPins(grid, all), pins: all };
  const { tempoBpm, one } = fitPins(all.length > 1 ? all : withPin(all, { beat: 0, time: grid.one }));
  return { grid: { ...grid, tempoBpm, one }, pins: all };
}

/** Moves the whole grid so that its one stands at `time`; a pin on the one goes with it, others stay. */
export function moveTheOne({ grid, pins }: Pinned, time: number): Pinned {
  return {
    grid: moveOne(grid, time),
    pins: pins.map((pin) => (pin.beat === 0 ? { beat: 0, time } : pin)),
  };
}

/** Counts from another beat: beat `beat` becomes the one; no line moves. */
export function countFrom({ grid, pins }: Pinned, beat: number): Pinned {
  return {
    grid: { ...grid, one: beatTime(grid, beat) },
    pins: pins.map((pin) => ({ ...pin, beat: pin.beat - beat })),
  };
}

/** Multiplies the tempo about the one; pins stay at their places in the music. */
export function scalePinned({ grid, pins }: Pinned, ratio: number): Pinned {
  return {
    grid: scaleTempo(grid, ratio),
    pins: pins.map((pin) => ({ ...pin, beat: pin.beat * ratio })),
  };
}

/** A grid goes through a pin when its beat stands as near to it as a hand puts it, seconds. */
const MET_SECONDS = 0.005;

/**
 * The pins that a grid which came about without them goes through; the others would contradict it, and turn it back
 * at the next pull.
 */
export function pinsMetBy(grid: Grid, pins: readonly Pin[]): Pin[] {
  return pins.filter(({ beat, time }) => Math.abs(beatTime(grid, beat) - time) <= MET_SECONDS);
}

/** Adds a pin, or moves the one that its beat has already. */
export function withPin(pins: readonly Pin[], pin: Pin): Pin[] {
  return [...pins.filter(({ beat }) => Math.abs(beat - pin.beat) > 1e-6), pin].sort(
    (a, b) => a.beat - b.beat,
  );
}

function nearestIndex(values: readonly number[], x: number): number {
  let best = 0;
  for (let i = 1; i < values.length; i++) if (Math.abs(values[i] - x) < Math.abs(values[best] - x)) best = i;
  return best;
}
