import { z } from 'zod';
import { lastNotAfter } from '../math/bisect';

/** Note values that a time signature counts: a whole note and its halvings. */
const NOTE_VALUES: readonly number[] = [1, 2, 4, 8, 16, 32];

/** A time signature: how many beats of which unit make a bar. */
export const meterValue = z.object({
  beatsPerBar: z.int().min(1).max(32),
  beatUnit: z
    .int()
    .refine((unit) => NOTE_VALUES.includes(unit), 'a bar counts whole, half, quarter … 32nd notes'),
});
export type Meter = z.infer<typeof meterValue>;

/**
 * Beats and bars laid over the audio. Beats are *felt* beats: in 6/8 a dotted quarter, so that a bar of 6/8
 * has two. Beat 0 stands on the one; beats before it are pickup and have negative numbers.
 * A steady grid has one tempo; a moving one lists its beats and `tempoBpm` is their average.
 */
export const gridValue = z.object({
  tempoBpm: z.number().min(10).max(1000),
  /** Time of the first downbeat, seconds. */
  one: z.number(),
  meter: meterValue,
  /** Times of the beats of a moving grid, rising, seconds; null for a steady one. */
  movingBeats: z.array(z.number()).min(2).nullable(),
});
export type Grid = z.infer<typeof gridValue>;

export interface GridBeat {
  time: number;
  /** Counted from the one, which is 0. */
  beat: number;
  /** Counted from 1; the pickup is bar 0 and below. */
  bar: number;
  /** Place within the bar, from 0. */
  place: number;
}

/** Felt beats in a bar: bars of 6, 9 or 12 eighths are felt in groups of three. */
export function feltBeatsPerBar({ beatsPerBar, beatUnit }: Meter): number {
  return beatUnit >= 8 && beatsPerBar % 3 === 0 && beatsPerBar > 3 ? beatsPerBar / 3 : beatsPerBar;
}

/** Time of a beat (whole or fractional, negative before the one), seconds; beyond a moving grid's ends its edge tempi go on. */
export function beatTime(grid: Grid, beat: number): number {
  if (!grid.movingBeats) return grid.one + (beat * 60) / grid.tempoBpm;
  const beats = grid.movingBeats;
  const position = beat + indexOfOne(grid, beats);
  const i = Math.max(0, Math.min(beats.length - 2, Math.floor(position)));
  return beats[i] + (position - i) * (beats[i + 1] - beats[i]);
}

/** The inverse of `beatTime`. */
export function beatPosition(grid: Grid, time: number): number {
  if (!grid.movingBeats) return ((time - grid.one) * grid.tempoBpm) / 60;
  const beats = grid.movingBeats;
  const i = Math.max(0, Math.min(beats.length - 2, lastNotAfter(beats, time)));
  return i + (time - beats[i]) / (beats[i + 1] - beats[i]) - indexOfOne(grid, beats);
}

/** Time of the first beat of a bar; bar 1 begins at the one. */
export function barTime(grid: Grid, bar: number): number {
  return beatTime(grid, (bar - 1) * feltBeatsPerBar(grid.meter));
}

/** Whole bars that fit between the one and a time. */
export function barsUntil(grid: Grid, time: number): number {
  return Math.max(0, Math.floor((beatPosition(grid, time) + 0.05) / feltBeatsPerBar(grid.meter)));
}

/** All beats with from ≤ time < to. */
export function beatsWithin(grid: Grid, from: number, to: number): GridBeat[] {
  const size = feltBeatsPerBar(grid.meter);
  const first = Math.ceil(beatPosition(grid, from) - 1e-9);
  const beats: GridBeat[] = [];
  for (let beat = first; ; beat++) {
    const time = beatTime(grid, beat);
    if (time >= to - 1e-9) return beats;
    const bar = Math.floor(beat / size) + 1;
    beats.push({ time, beat, bar, place: beat - (bar - 1) * size });
  }
}

/** Moves the whole grid so that its one stands at `time`. */
export function moveOne(grid: Grid, time: number): Grid {
  const shift = time - grid.one;
  return { ...grid, one: time, movingBeats: grid.movingBeats?.map((beat) => beat + shift) ?? null };
}

/**
 * Multiplies the tempo by `ratio` about the one (2: double, ½: half). A moving grid keeps its bends: its
 * beats are read off at the new spacing.
 */
export function scaleTempo(grid: Grid, ratio: number): Grid {
  if (!(ratio > 0)) throw new RangeError(`tempo ratio ${ratio} is not positive`);
  const tempoBpm = grid.tempoBpm * ratio;
  if (!grid.movingBeats) return { ...grid, tempoBpm };
  const beats = grid.movingBeats;
  const oneAt = indexOfOne(grid, beats);
  const first = Math.ceil(-oneAt * ratio - 1e-9);
  const last = Math.floor((beats.length - 1 - oneAt) * ratio + 1e-9);
  if (last - first < 1) return { ...grid, tempoBpm, movingBeats: null };
  return {
    ...grid,
    tempoBpm,
    movingBeats: Array.from({ length: last - first + 1 }, (_, i) => beatTime(grid, (first + i) / ratio)),
  };
}

/** A grid of one tempo; the one stays. */
export function steadyAt(grid: Grid, tempoBpm: number): Grid {
  return { ...grid, tempoBpm, movingBeats: null };
}

/** Average tempo of a list of beat times, BPM. */
export function averageTempo(beats: readonly number[]): number {
  return (60 * (beats.length - 1)) / (beats[beats.length - 1] - beats[0]);
}

/** Whether two grids put every beat at the same place and count it alike, to a hundredth of a millisecond. */
export function sameGrid(a: Grid, b: Grid): boolean {
  const near = (x: number, y: number) => Math.abs(x - y) < 1e-5;
  return (
    near(a.one, b.one) &&
    Math.abs(a.tempoBpm / b.tempoBpm - 1) < 1e-8 &&
    a.meter.beatsPerBar === b.meter.beatsPerBar &&
    a.meter.beatUnit === b.meter.beatUnit &&
    (a.movingBeats?.length ?? 0) === (b.movingBeats?.length ?? 0) &&
    (a.movingBeats ?? []).every((beat, i) => near(beat, b.movingBeats![i]))
  );
}

/** Index in `beats` of the beat that the one stands on. */
function indexOfOne(grid: Grid, beats: readonly number[]): number {
  const i = Math.max(0, lastNotAfter(beats, grid.one));
  return i + 1 < beats.length && beats[i + 1] - grid.one < grid.one - beats[i] ? i + 1 : i;
}
