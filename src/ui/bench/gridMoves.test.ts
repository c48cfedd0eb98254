import { beatTime, type Grid } from '@/core/rhythm/grid';
import { leanWords } from './leanWords';
import {
  beatPinnedTo,
  foldDragged,
  gridSteady,
  lengthTaken,
  oneOnBeat,
  setUpright,
  stretchMeasured,
  tapsTaken,
  tempoScaled,
  tempoTyped,
} from './gridMoves';
import { overridden, snapped } from './snapping';

const grid: Grid = { tempoBpm: 120, one: 1, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
const settled = { grid, pins: [] };

test('a length says what it is and rests on a reading of its own', () => {
  const move = lengthTaken(settled, { from: 2, to: 10 }, 16, '4 bars', false);
  expect(move.grid).toEqual(grid);
  expect(move.reading).toMatchObject({ source: 'length', value: 120, detail: '4 bars in 8.0000 s' });
  expect(lengthTaken(settled, { from: 2, to: 12 }, 16, '4 bars', true).grid).toMatchObject({
    tempoBpm: 96,
    one: 2,
  });
  // A short stretch is less sure than a long one.
  const sure = (to: number, beats: number) =>
    lengthTaken(settled, { from: 0, to }, beats, '', false).reading!.sureness;
  expect(sure(0.5, 1)).toBeLessThan(sure(8, 16));
});

test('taps keep the one, or put it on the first tap when that is wanted', () => {
  const taps = { bpm: 98.2, taps: 12, spreadMs: 11, sureness: 0.7, first: 3.3 };
  expect(tapsTaken(settled, taps, 0, false).grid).toMatchObject({ tempoBpm: 98.2, one: 1 });
  expect(tapsTaken(settled, taps, 0, true).grid).toMatchObject({ tempoBpm: 98.2, one: 3.3 });
  expect(tapsTaken(settled, { ...taps, first: null }, 0, true).grid.one).toBe(1);
  expect(tapsTaken(null, taps, 0.7, false).grid).toMatchObject({ tempoBpm: 98.2, one: 0.7 });
});

test('pins away from bar lines are named by bar and beat', () => {
  expect(beatPinnedTo(settled, 8, 5.1).words).toMatch(/^bar 3 pinned to 5\.1000 s/);
  expect(beatPinnedTo(settled, 9, 5.6).words).toMatch(/^beat 2 of bar 3 pinned/);
  expect(beatPinnedTo(settled, 0, 1.2).words).toBe('the one to 1.2000 s');
});

test('a drag in the fold is one of the one or one of the tempo', () => {
  expect(foldDragged(settled, { ...grid, one: 1.02 }).reading).toMatchObject({
    property: 'one',
    value: 1.02,
  });
  expect(foldDragged(settled, { ...grid, tempoBpm: 119.7 }).reading).toMatchObject({
    property: 'tempo',
    value: 119.7,
  });
});

describe('a tempo that does not come from the pins', () => {
  // Bar 10 was pinned where 120 BPM puts it.
  const pinned = {
    grid,
    pins: [
      { beat: 0, time: 1 },
      { beat: 36, time: 19 },
    ],
  };

  test('lets go of those that it does not go through, so that the next pull agrees with it', () => {
    const typed = tempoTyped(pinned, 100, 0);
    expect(typed.pins).toEqual([{ beat: 0, time: 1 }]);
    // Bar 9 by its line at 100 BPM, 50 ms later.
    const pulled = beatPinnedTo(typed, 32, 1 + 32 * 0.6 + 0.05);
    expect(pulled.grid.tempoBpm).toBeCloseTo((32 * 60) / (32 * 0.6 + 0.05), 6);
    expect(pulled.pins.map(({ beat }) => beat)).toEqual([0, 32]);
  });

  test('keeps those that it goes through', () => {
    expect(tempoTyped(pinned, 120.01, 0).pins).toEqual(pinned.pins);
    expect(setUpright(pinned, 120, 1.002).pins).toEqual(pinned.pins);
  });

  test.each([
    ['taps', tapsTaken(pinned, { bpm: 97, taps: 9, spreadMs: 9, sureness: 0.7, first: 3.3 }, 0, true)],
    ['a length', lengthTaken(pinned, { from: 2, to: 12 }, 16, '4 bars', true)],
    ['the fold', foldDragged(pinned, { ...grid, tempoBpm: 111 })],
    [
      'one tempo for a moving one',
      gridSteady({ ...pinned, grid: { ...grid, tempoBpm: 113, movingBeats: [1, 1.6, 2.2] } }),
    ],
  ])('%s', (_, move) => {
    expect(move.pins.every(({ beat, time }) => Math.abs(beatTime(move.grid, beat) - time) <= 0.005)).toBe(
      true,
    );
    expect(move.pins.length).toBeLessThan(2);
  });
});

test('other beats and ratios carry their words', () => {
  expect(oneOnBeat(settled, 1)).toMatchObject({ words: 'the one to the beat after', grid: { one: 1.5 } });
  expect(oneOnBeat(settled, -2).words).toBe('the one to the 2. beat before');
  expect(tempoScaled(settled, 2 / 3, '×⅔')).toMatchObject({ words: '×⅔: 80 BPM' });
});

test('a stretch without a tempo gives no grid', () => {
  expect(stretchMeasured(settled, { tempo: null } as never, { from: 0, to: 1 })).toBeNull();
});

test('lean in words: how much, which way, and what counts as upright', () => {
  const lean = { leanBpm: 0, uprightBpm: 119.6, uprightOne: 1.004, offsetMs: 4, gathered: 1 };
  expect(leanWords(grid, lean, 60)).toEqual({ text: 'leans 0.40 BPM late', upright: false });
  expect(leanWords(grid, { ...lean, uprightBpm: 120.05 }, 60).text).toBe('leans 0.050 BPM early');
  expect(leanWords(grid, { ...lean, uprightBpm: 120 }, 60)).toEqual({ text: 'straight', upright: true });
  expect(leanWords(grid, { ...lean, uprightBpm: 120, uprightOne: 1.03 }, 60).text).toBe(
    'hits are 30 ms late',
  );
  // A whole beat away is not off.
  expect(leanWords(grid, { ...lean, uprightBpm: 120, uprightOne: 1.5 }, 60).upright).toBe(true);
  expect(leanWords(grid, null, 60).upright).toBe(false);
  // What was rendered is exact: how its hits lean is how they are played, and nothing to be mended.
  expect(leanWords(grid, { ...lean, uprightBpm: 120, uprightOne: 1.03 }, 60, true)).toEqual({
    text: 'exact, as rendered; its hits are played 30 ms late',
    upright: true,
  });
  expect(leanWords(grid, lean, 60, true)).toEqual({ text: 'exact, as rendered', upright: true });
});

test('things placed by hand go to hits, to crossings, or stay', () => {
  const onsets = [{ time: 1 }, { time: 2 }];
  expect(snapped(1.04, 'hits', 0.05, onsets, null)).toBe(1);
  expect(snapped(1.2, 'hits', 0.05, onsets, null)).toBe(1.2);
  expect(snapped(1.04, 'nothing', 0.05, onsets, null)).toBe(1.04);
  const tone = Float32Array.from({ length: 44100 }, (_, i) => Math.sin((2 * Math.PI * 100 * i) / 44100));
  const sound = { channels: [tone], sampleRate: 44100 };
  expect(snapped(0.503, 'crossings', 0.01, [], sound)).toBeCloseTo(0.505, 4);
  expect([overridden('hits', true), overridden('nothing', true), overridden('crossings', false)]).toEqual([
    'nothing',
    'hits',
    'crossings',
  ]);
});
