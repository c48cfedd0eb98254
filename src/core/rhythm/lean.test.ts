import { drums, monoOf } from '../../../tests/support/music';
import { attackNear } from '../signal/attack';
import { barOfRow, dragFold, foldRows } from './fold';
import { beatPosition, beatTime, type Grid } from './grid';
import { measureLean } from './lean';
import type { Onset } from './onsets';

const grid = (tempoBpm: number, one = 0.2): Grid => ({
  tempoBpm,
  one,
  meter: { beatsPerBar: 4, beatUnit: 4 },
  movingBeats: null,
});

/** Hits on every beat and, weaker, on off-beats, placed with a spread of ±4 ms. */
function hits(bpm: number, one: number, beats: number): Onset[] {
  let seed = 7;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  return Array.from({ length: beats * 2 }, (_, i) => ({
    time: one + (i * 30) / bpm + 0.008 * (random() - 0.5),
    strength: i % 2 ? 3 : 8,
  }));
}

test.each([0.5, -0.5, 1.7, -0.08])('a tempo that is %d BPM off leans by that much', (off) => {
  const lean = measureLean(hits(104.37, 0.2, 280), grid(104.37 + off))!;
  expect(Math.abs(lean.leanBpm - off)).toBeLessThan(0.003);
  expect(Math.abs(lean.uprightOne - 0.2)).toBeLessThan(0.002);
});

test('a one that is 30 ms early stands 30 ms off, and does not lean', () => {
  const lean = measureLean(hits(96, 1.5, 64), grid(96, 1.47))!;
  expect(Math.abs(lean.leanBpm)).toBeLessThan(0.01);
  expect(Math.abs(lean.offsetMs - 30)).toBeLessThan(2);
  expect(lean.gathered).toBeGreaterThan(0.95);
});

test('strong off-beats do not make the one late', () => {
  const onsets = hits(100, 0.2, 64).map((onset, i) => ({ ...onset, strength: i % 2 ? 9 : 2 }));
  expect(Math.abs(measureLean(onsets, grid(100))!.offsetMs)).toBeLessThan(2);
});

test('nothing leans without hits or on a moving grid', () => {
  expect(measureLean([], grid(100))).toBeNull();
  expect(measureLean(hits(100, 0, 8), { ...grid(100), movingBeats: [0, 0.6, 1.2] })).toBeNull();
});

test('rows begin at the one; what is before it is pickup', () => {
  const rows = foldRows(grid(120, 3.1), 4, 20);
  expect([rows.first, rows.last]).toEqual([-2, 8]);
  expect(barOfRow(grid(120, 3.1), rows, 0)).toBe(1);
  expect(barOfRow(grid(120, 3.1), rows, -1)).toBe(0);
  const waltz = { ...grid(180), meter: { beatsPerBar: 3, beatUnit: 4 } };
  expect(barOfRow(waltz, foldRows(waltz, 6, 30), 2)).toBe(5);
});

test('what is taken hold of follows the hand: the one from above, the tempo from below', () => {
  const before = grid(120, 1);
  const rows = foldRows(before, 4, 60);
  const moved = dragFold(before, rows, 1.5, 0.1);
  expect(moved.tempoBpm).toBe(120);
  expect(moved.one).toBeCloseTo(0.95, 9);
  const time = beatTime(before, 41.5);
  const turned = dragFold(before, rows, 41.5, 0.1);
  expect(turned.one).toBe(1);
  expect(beatPosition(turned, time)).toBeCloseTo(41.6, 9);
  // The further down, the finer.
  const further = dragFold(before, rows, 101.5, 0.1);
  expect(Math.abs(further.tempoBpm - 120)).toBeLessThan(Math.abs(turned.tempoBpm - 120) / 2);
});

test('a moving grid is bent where it is taken hold of', () => {
  const movingBeats = Array.from({ length: 33 }, (_, i) => i * 0.5);
  const moving: Grid = { ...grid(120, 0), movingBeats };
  const bent = dragFold(moving, foldRows(moving, 4, 16), 16, -0.1);
  expect(bent.one).toBe(0);
  expect(beatTime(bent, 16)).toBeCloseTo(8.05, 9);
  expect(beatTime(bent, 8)).toBeCloseTo(4.025, 9);
  expect(beatTime(bent, 32)).toBeCloseTo(16.05, 9);
});

test('the attack near a place is the same at the audio’s own rate, with noise before the hit', () => {
  const stage = drums({ bpm: 90, bars: 2, one: 0.5 });
  const mono = monoOf(stage);
  let seed = 3;
  for (let i = 0; i < 0.5 * 44100; i++)
    mono[i] += 0.01 * ((seed = (seed * 16807) % 2147483647) / 1073741823 - 1);
  for (const off of [-0.02, 0.004, 0.015])
    expect(Math.abs(attackNear([mono], 44100, 0.5 + off) - 0.5)).toBeLessThan(0.0015);
});
