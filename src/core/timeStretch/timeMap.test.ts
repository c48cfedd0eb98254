import type { Grid } from '../rhythm/grid';
import {
  anchored,
  composed,
  cut,
  gridToGrid,
  gridToLength,
  gridToTempo,
  inverse,
  slopeAt,
  steadyMap,
  timeMap,
  toResult,
  toSource,
} from './timeMap';

const steady = (tempoBpm: number, one = 0): Grid => ({
  tempoBpm,
  one,
  meter: { beatsPerBar: 4, beatUnit: 4 },
  movingBeats: null,
});
/** A player who takes their time: beats 0.5 s apart, then 0.6 s. */
const MOVING: Grid = { ...steady(109, 0.2), movingBeats: [0.2, 0.7, 1.2, 1.8, 2.4] };

test('a steady grid at another tempo is one straight line', () => {
  const map = gridToTempo(steady(148.27, 0.31), 112);
  expect(map.source).toHaveLength(2);
  expect(toResult(map, 0)).toBe(0);
  expect(slopeAt(map, 3)).toBeCloseTo(148.27 / 112, 12);
  // The one, and every beat after it, at the new spacing.
  expect(toResult(map, 0.31 + (8 * 60) / 148.27) - toResult(map, 0.31)).toBeCloseTo((8 * 60) / 112, 12);
});

test('a grid that moves plays steadily: each beat stands exactly on its beat', () => {
  const map = gridToTempo(MOVING, 100);
  const beats = MOVING.movingBeats!.map((time) => toResult(map, time));
  for (let k = 1; k < beats.length; k++) expect(beats[k] - beats[k - 1]).toBeCloseTo(0.6, 12);
  // Before the first beat and after the last the edge tempi go on.
  expect(slopeAt(map, 0)).toBeCloseTo(0.6 / 0.5, 12);
  expect(slopeAt(map, 9)).toBeCloseTo(1, 12);
});

test('felt at half the speed, two beats of the source make one of the result', () => {
  const map = gridToTempo(steady(164), 80, 0.5);
  expect(slopeAt(map, 1)).toBeCloseTo(164 / 160, 12);
});

test('there and back again is where it began; knots are met to the last bit', () => {
  const map = gridToTempo(MOVING, 93);
  for (const time of [-1, 0, 0.123, 0.7, 1.9, 7])
    expect(toSource(map, toResult(map, time))).toBeCloseTo(time, 12);
  map.source.forEach((time, i) => expect(toResult(map, time)).toBe(map.result[i]));
  const same = composed(map, inverse(map));
  for (const time of [0, 0.5, 1.5, 3]) expect(toResult(same, time)).toBeCloseTo(time, 12);
});

test('a map and then another is the one map that has the knots of both', () => {
  const map = composed(gridToTempo(MOVING, 100), timeMap([0, 1, 2], [0, 0.5, 2]));
  for (const time of [0, 0.4, 0.9, 1.7, 2.2])
    expect(toResult(map, time)).toBeCloseTo(
      toResult(timeMap([0, 1, 2], [0, 0.5, 2]), toResult(gridToTempo(MOVING, 100), time)),
      12,
    );
});

test('another sample’s feel: beats go where its beats are', () => {
  const map = gridToGrid(steady(120, 0), MOVING);
  [0, 1, 2, 3, 4].forEach((beat) =>
    expect(toResult(map, beat * 0.5)).toBeCloseTo(MOVING.movingBeats![beat], 12),
  );
});

test('a piece is counted from its own beginning, and can be put anywhere', () => {
  const piece = cut(gridToTempo(MOVING, 100), 0.7, 1.8);
  expect(piece.source).toEqual([0, 0.5, expect.closeTo(1.1, 12)]);
  expect(piece.result).toEqual([0, expect.closeTo(0.6, 12), expect.closeTo(1.2, 12)]);
  expect(toResult(anchored(piece, 0.5, 10), 0.5)).toBeCloseTo(10, 12);
  expect(() => cut(piece, 1, 1)).toThrow(RangeError);
});

test('four bars become exactly so many samples, whatever the beats do', () => {
  const frames = 95_321;
  const map = gridToLength(MOVING, 0.2, 2.4, frames, 44_100);
  expect(map.source[0]).toBe(0);
  expect(map.result.at(-1)).toBe(frames / 44_100);
  expect(toResult(map, 1) / toResult(map, map.source.at(-1)!)).toBeCloseTo(0.5, 12);
});

test.each<[string, number[], number[]]>([
  ['one knot', [0], [0]],
  ['two at one place', [0, 1, 1], [0, 1, 2]],
  ['a result that goes back', [0, 1, 2], [0, 2, 1]],
  ['no number', [0, NaN], [0, 1]],
  ['more results than sources', [0, 1], [0, 1, 2]],
])('%s is refused', (_, source, result) => {
  expect(() => timeMap(source, result)).toThrow(RangeError);
});

test('a ratio alone keeps the beginning', () => {
  expect(toResult(steadyMap(1.25), 4)).toBeCloseTo(5, 12);
});
