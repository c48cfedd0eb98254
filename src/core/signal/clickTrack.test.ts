import type { Grid } from '../rhythm/grid';
import { clickTrack } from './clickTrack';

const grid: Grid = { tempoBpm: 120, one: 1, meter: { beatsPerBar: 3, beatUnit: 4 }, movingBeats: null };
const times = (track: { frames: Float64Array }) => [...track.frames].map((frame) => frame / 1000);

test('a click stands on every beat, accented on the first of a bar, also in the pickup', () => {
  const track = clickTrack(grid, 0, 3, 1000, { pace: 1, subdivision: 1 });
  expect(times(track)).toEqual([0, 0.5, 1, 1.5, 2, 2.5]);
  expect([...track.accents]).toEqual([0, 0, 1, 0, 0, 1]);
});

test('subdivisions are soft and even within the beat', () => {
  const track = clickTrack(grid, 1, 2, 1000, { pace: 1, subdivision: 3 });
  expect(times(track).map((t) => Number(t.toFixed(4)))).toEqual([1, 1.1667, 1.3333, 1.5, 1.6667, 1.8333]);
  expect([...track.accents]).toEqual([1, 2, 2, 0, 2, 2]);
});

test('half time leaves every other beat out, double time adds one between', () => {
  expect(times(clickTrack(grid, 1, 4, 1000, { pace: 0.5, subdivision: 1 }))).toEqual([1, 2, 3]);
  const twice = clickTrack(grid, 1, 2, 1000, { pace: 2, subdivision: 1 });
  expect(times(twice)).toEqual([1, 1.25, 1.5, 1.75]);
  expect([...twice.accents]).toEqual([1, 0, 0, 0]);
});

test('clicks follow a moving grid', () => {
  const moving = { ...grid, movingBeats: [1, 1.5, 2.1, 2.8], one: 1 };
  expect(
    times(clickTrack(moving, 1, 2.9, 1000, { pace: 1, subdivision: 2 })).map((t) => Number(t.toFixed(3))),
  ).toEqual([1, 1.25, 1.5, 1.8, 2.1, 2.45, 2.8]);
});
