import {
  barTime,
  beatPosition,
  beatsWithin,
  beatTime,
  feltBeatsPerBar,
  sameGrid,
  scaleTempo,
  steadyAt,
  type Grid,
} from './grid';

const steady: Grid = { tempoBpm: 120, one: 0.25, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
const moving: Grid = {
  tempoBpm: 110,
  one: 1,
  meter: { beatsPerBar: 3, beatUnit: 4 },
  movingBeats: [0.5, 1, 1.6, 2.1, 2.7, 3.4],
};

test('beats of a steady grid stand a period apart, pickup included', () => {
  expect(beatTime(steady, 0)).toBe(0.25);
  expect(beatTime(steady, 7)).toBeCloseTo(3.75);
  expect(beatTime(steady, -1)).toBeCloseTo(-0.25);
  expect(barTime(steady, 3)).toBeCloseTo(4.25);
});

test.each([
  ['steady', steady],
  ['moving', moving],
])('position and time are each other’s inverse on a %s grid', (_, grid) => {
  for (const time of [-1, 0.3, 1, 1.9, 2.65, 3.4, 9])
    expect(beatTime(grid, beatPosition(grid, time))).toBeCloseTo(time, 9);
});

test('a moving grid goes through its beats and goes on at its edge tempi', () => {
  expect(beatTime(moving, 0)).toBe(1);
  expect(beatTime(moving, -1)).toBe(0.5);
  expect(beatTime(moving, 4)).toBe(3.4);
  expect(beatTime(moving, 5)).toBeCloseTo(4.1);
});

test('beats are numbered by bar and place', () => {
  const beats = beatsWithin(steady, 0, 2.5);
  expect(beats.map(({ bar, place }) => `${bar}.${place}`)).toEqual(['1.0', '1.1', '1.2', '1.3', '2.0']);
  expect(beatsWithin(steady, -0.6, 0.2).map(({ bar, place }) => `${bar}.${place}`)).toEqual(['0.3']);
});

test('six eighths are felt in two, seven in seven', () => {
  expect(feltBeatsPerBar({ beatsPerBar: 6, beatUnit: 8 })).toBe(2);
  expect(feltBeatsPerBar({ beatsPerBar: 12, beatUnit: 8 })).toBe(4);
  expect(feltBeatsPerBar({ beatsPerBar: 7, beatUnit: 8 })).toBe(7);
  expect(feltBeatsPerBar({ beatsPerBar: 3, beatUnit: 4 })).toBe(3);
});

test('doubling puts a beat between any two, halving takes every second away', () => {
  expect(scaleTempo(steady, 2).tempoBpm).toBe(240);
  const twice = scaleTempo(moving, 2);
  expect(twice.movingBeats).toHaveLength(11);
  expect(beatTime(twice, 1)).toBeCloseTo(1.3);
  const half = scaleTempo(moving, 0.5);
  expect(half.movingBeats).toEqual([1, 2.1, 3.4]);
  expect(() => scaleTempo(steady, 0)).toThrow(RangeError);
});

test('grids are the same when every beat is', () => {
  expect(sameGrid(steady, { ...steady, one: 0.25 + 1e-7 })).toBe(true);
  expect(sameGrid(steady, { ...steady, one: 0.251 })).toBe(false);
  expect(sameGrid(steady, steadyAt(steady, 120.001))).toBe(false);
  expect(sameGrid(moving, { ...moving, movingBeats: [0.5, 1, 1.6, 2.1, 2.7, 3.5] })).toBe(false);
});
