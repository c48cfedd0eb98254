import type { Grid } from '../rhythm/grid';
import { eachClick, type ClickKind, type ClickPace } from './click';
import { clickSound, CLICK_SOUNDS } from './clickSound';

const RATE = 1000;
const grid: Grid = { tempoBpm: 120, one: 1, meter: { beatsPerBar: 3, beatUnit: 4 }, movingBeats: null };

/** Times and kinds of the clicks between two times, seconds. */
function clicks(of: Grid, from: number, to: number, pace: ClickPace) {
  const times: number[] = [];
  const kinds: ClickKind[] = [];
  eachClick(of, from * RATE, to * RATE, RATE, pace, (frame, kind) => {
    times.push(Number((frame / RATE).toFixed(4)));
    kinds.push(kind);
  });
  return { times, kinds };
}

test('a click stands on every beat, accented on the first of a bar, also in the pickup', () => {
  const { times, kinds } = clicks(grid, 0, 3, { pace: 1, subdivision: 1 });
  expect(times).toEqual([0, 0.5, 1, 1.5, 2, 2.5]);
  expect(kinds).toEqual(['plain', 'plain', 'accented', 'plain', 'plain', 'accented']);
});

test('subdivisions are soft and even within the beat', () => {
  const { times, kinds } = clicks(grid, 1, 2, { pace: 1, subdivision: 3 });
  expect(times).toEqual([1, 1.1667, 1.3333, 1.5, 1.6667, 1.8333]);
  expect(kinds).toEqual(['accented', 'soft', 'soft', 'plain', 'soft', 'soft']);
});

test('half time leaves every other beat out, double time adds one between', () => {
  expect(clicks(grid, 1, 4, { pace: 0.5, subdivision: 1 }).times).toEqual([1, 2, 3]);
  const twice = clicks(grid, 1, 2, { pace: 2, subdivision: 1 });
  expect(twice.times).toEqual([1, 1.25, 1.5, 1.75]);
  expect(twice.kinds).toEqual(['accented', 'plain', 'plain', 'plain']);
});

test('clicks follow a moving grid', () => {
  const moving = { ...grid, movingBeats: [1, 1.5, 2.1, 2.8], one: 1 };
  expect(clicks(moving, 1, 2.9, { pace: 1, subdivision: 2 }).times).toEqual([
    1, 1.25, 1.5, 1.8, 2.1, 2.45, 2.8,
  ]);
});

test('stretches that meet share no click and lose none, wherever they meet', () => {
  for (const other of [grid, { ...grid, tempoBpm: 113.873, one: 0.0371 }]) {
    const pace = { pace: 1, subdivision: 4 } as const;
    const whole: number[] = [];
    eachClick(other, -500, 9000, RATE, pace, (frame) => whole.push(frame));
    for (const step of [1, 7, 128, 0.5, 96.25]) {
      const parts: number[] = [];
      for (let at = -500; at < 9000; at += step)
        eachClick(other, at, Math.min(9000, at + step), RATE, pace, (frame) => parts.push(frame));
      expect(parts).toEqual(whole);
    }
  }
});

test.each(CLICK_SOUNDS)('the sound “%s” is loudest in its first sample', (sound) => {
  for (const accent of [false, true]) {
    const samples = clickSound(sound, accent, 44100);
    expect(samples[0]).toBe(1);
    expect(Math.max(...samples.map(Math.abs))).toBeLessThanOrEqual(1);
    expect(Math.abs(samples[samples.length - 1])).toBeLessThan(0.01);
  }
});
