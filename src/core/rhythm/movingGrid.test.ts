import { randomFrom } from '@/demo/random';
import { beatTime, type Grid } from './grid';
import { asMoving, averageOfBars, barTempi, beginningHeld, followHits } from './movingGrid';
import type { Onset } from './onsets';

const COMMON = { beatsPerBar: 4, beatUnit: 4 };
const steady = (tempoBpm: number, one = 0, meter = COMMON): Grid => ({
  tempoBpm,
  one,
  meter,
  movingBeats: null,
});
const onsetsAt = (times: readonly number[]): Onset[] => times.map((time) => ({ time, strength: 5 }));
/** `count` beats, the k-th lasting 60 / bpm(k) seconds. */
function played(count: number, bpm: (k: number) => number, from = 0.5): number[] {
  const times = [from];
  for (let k = 1; k < count; k++) times.push(times[k - 1] + 60 / bpm(k - 1));
  return times;
}

test('the tempo table of a steady grid says the same tempo for each whole bar', () => {
  const bars = barTempi(steady(120, 0.25), 10.3);
  expect(bars.map(({ bar }) => bar)).toEqual([1, 2, 3, 4, 5]);
  for (const { bar, time, bpm } of bars) {
    expect(bpm).toBeCloseTo(120, 9);
    expect(time).toBeCloseTo(0.25 + (bar - 1) * 2, 9);
  }
});

test('a bar that lacks less than a quarter of its length counts, one that lacks more does not', () => {
  expect(barTempi(steady(120), 5.6)).toHaveLength(3);
  expect(barTempi(steady(120), 5.4)).toHaveLength(2);
});

test('in six eighths a bar has two felt beats', () => {
  const [first] = barTempi(steady(80, 0, { beatsPerBar: 6, beatUnit: 8 }), 4);
  expect(first.bpm).toBeCloseTo(80, 9);
  expect(barTempi(steady(80, 0, { beatsPerBar: 6, beatUnit: 8 }), 4.5)).toHaveLength(3);
});

test('the average of bars is their beats over their seconds, and the one stays', () => {
  const movingBeats = [...played(5, () => 100, 0), ...played(9, () => 120, 4 * 0.6).slice(1)];
  const grid: Grid = { tempoBpm: 110, one: 0, meter: COMMON, movingBeats };
  expect(averageOfBars(grid, 1, 1).tempoBpm).toBeCloseTo(100, 6);
  expect(averageOfBars(grid, 2, 3).tempoBpm).toBeCloseTo(120, 6);
  const both = averageOfBars(grid, 1, 2);
  expect(both.tempoBpm).toBeCloseTo((60 * 8) / (2.4 + 2), 6);
  expect(both.one).toBe(0);
  expect(both.movingBeats).toBeNull();
  expect(() => averageOfBars(grid, 3, 2)).toThrow(RangeError);
});

test('a steady grid as a list of beats has the same beats, and the one among them', () => {
  const grid = steady(90, 1.1);
  const moving = asMoving(grid, 12);
  const beats = moving.movingBeats!;
  expect(beats).toContain(moving.one);
  expect(moving.one).toBeCloseTo(1.1, 9);
  expect(beats[0]).toBeLessThan(0 + 60 / 90);
  expect(beats[beats.length - 1]).toBeGreaterThanOrEqual(12);
  beats.forEach((time, i) => expect(time).toBeCloseTo(beatTime(grid, i - beats.indexOf(moving.one)), 9));
  expect(asMoving(moving, 12)).toBe(moving);
});

describe('following the hits', () => {
  const error = (grid: Grid, beats: readonly number[]) =>
    Math.max(...beats.map((time) => Math.min(...grid.movingBeats!.map((other) => Math.abs(other - time)))));

  test('of a player who speeds up by a fifth', () => {
    const beats = played(64, (k) => 100 + (20 * k) / 64);
    const found = followHits(onsetsAt(beats), steady(100, 0.5), beats[63] + 0.3, 4);
    expect(error(found, beats)).toBeLessThan(0.004);
  });

  test('where the player is loose the line is smoother than the hits', () => {
    const random = randomFrom(9);
    const beats = played(80, (k) => 110 + 4 * Math.sin(k / 12));
    const loose = beats.map((time) => time + 0.03 * (random() - 0.5));
    const found = followHits(onsetsAt(loose), steady(110, 0.5), beats[79] + 0.3, 8);
    const nearest = (time: number) => Math.min(...found.movingBeats!.map((other) => Math.abs(other - time)));
    const rms = Math.sqrt(beats.reduce((sum, time) => sum + nearest(time) ** 2, 0) / beats.length);
    expect(error(found, beats)).toBeLessThan(0.015);
    // What was played is loose by 8.7 ms in the root mean square.
    expect(rms).toBeLessThan(0.006);
  });

  test('one hit that is far off does not pull', () => {
    const beats = played(48, () => 120);
    const hits = beats.map((time, k) => (k === 20 ? time + 0.07 : time));
    const found = followHits(onsetsAt(hits), steady(120, 0.5), beats[47] + 0.3, 4);
    expect(error(found, beats)).toBeLessThan(0.005);
  });

  test('backwards from a one in the middle too', () => {
    const beats = played(40, (k) => 96 + 10 * Math.sin(k / 10), 0.2);
    const grid = steady(60 / (beats[17] - beats[16]), beats[16]);
    const found = followHits(onsetsAt(beats), grid, beats[39] + 0.3, 4);
    expect(error(found, beats)).toBeLessThan(0.006);
    expect(Math.abs(found.one - beats[16])).toBeLessThan(0.006);
  });

  test('with hardly any hits the grid stays as it walks', () => {
    const found = followHits(onsetsAt([0.5, 1]), steady(120, 0.5), 6, 4);
    found.movingBeats!.forEach((time, k, all) => k && expect(time - all[k - 1]).toBeCloseTo(0.5, 6));
  });
});

test('the first beats are held by those behind them: what was set late at the beginning of a recording is mended', () => {
  const truth = Array.from({ length: 40 }, (_, beat) => (beat * 60) / (131 + 0.05 * beat));
  const beats = truth.map(
    (time, beat) => time + (beat === 0 ? 0.03 : beat === 1 ? 0.012 : 0.003 * Math.sin(9 * beat)),
  );
  const held = beginningHeld(beats);
  expect(Math.abs(held[0] - truth[0])).toBeLessThan(0.008);
  expect(Math.abs(held[1] - truth[1])).toBeLessThan(0.008);
  expect(held.slice(2)).toEqual(beats.slice(2));
  // Where something stands before the first beat it is heard as well as any other.
  const later = beats.map((time) => time + 0.4);
  expect(beginningHeld(later)).toEqual(later);
  // Too few to tell stay.
  expect(beginningHeld(beats.slice(0, 9))).toEqual(beats.slice(0, 9));
});
