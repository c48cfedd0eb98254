import type { Grid } from './grid';
import { hitsOffGrid } from './offGrid';

const grid: Grid = {
  ...{ tempoBpm: 104, one: 0.25, movingBeats: null },
  meter: { beatsPerBar: 4, beatUnit: 4 },
} as Grid;
const beat = 60 / 104;
/** Eighths of eight bars, the second of each pair where the swing puts it. */
const eighths = (swing = 0.5) =>
  Array.from({ length: 64 }, (_, i) => 0.25 + beat * (Math.floor(i / 2) + (i % 2) * swing));

test('what stands on the grid is not off it, straight or swung', () => {
  expect(hitsOffGrid(eighths(), grid)).toEqual([]);
  expect(hitsOffGrid(eighths(0.62), grid)).toEqual([]);
  expect(hitsOffGrid([], grid)).toEqual([]);
});

test('late and early hits are told by how much, the worst first', () => {
  const times = eighths();
  times[9] += 0.025;
  times[30] -= 0.04;
  const found = hitsOffGrid(times, grid);
  expect(found.map(({ ms }) => Math.round(ms))).toEqual([-40, 25]);
  expect(found[0].time).toBe(times[30]);
});

test('a hit counts beside how exactly the others are played, and beside their common lateness', () => {
  // All of them ten milliseconds late, and unsteady by as much as eight.
  const loose = eighths().map((time, i) => time + 0.01 + 0.008 * Math.sin(i * 2.3));
  expect(hitsOffGrid(loose, grid)).toEqual([]);
  loose[12] += 0.045;
  expect(hitsOffGrid(loose, grid)).toHaveLength(1);
});
