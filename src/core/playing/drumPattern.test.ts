import type { Grid } from '../rhythm/grid';
import { drumSamples, eachStroke, STROKES, type PatternPace, type Stroke } from './drumPattern';

const RATE = 1000;
const STRAIGHT: PatternPace = { pace: 1, swing: 0.5 };
const grid = (beatsPerBar: number, beatUnit = 4): Grid => ({
  ...{ tempoBpm: 120, one: 0, meter: { beatsPerBar, beatUnit }, movingBeats: null },
});
/** Places of each drum between two times, seconds. */
function strokes(of: Grid, from: number, to: number, pace = STRAIGHT) {
  const found: Record<Stroke, number[]> = { big: [], side: [], light: [] };
  eachStroke(of, from * RATE, to * RATE, RATE, pace, (frame, stroke) =>
    found[stroke].push(Number((frame / RATE).toFixed(3))),
  );
  return found;
}

test('in four: big and side in turn, light on every half beat', () => {
  expect(strokes(grid(4), 0, 2)).toEqual({
    big: [0, 1],
    side: [0.5, 1.5],
    light: [0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75],
  });
});

test('in three: big on the one, side on the others, also in the pickup', () => {
  expect(strokes(grid(3), -0.5, 1.5)).toMatchObject({ big: [0], side: [-0.5, 0.5, 1] });
});

test('six eighths are felt in two, in thirds', () => {
  expect(strokes(grid(6, 8), 0, 1)).toEqual({
    big: [0],
    side: [0.5],
    light: [0, 0.167, 0.333, 0.5, 0.667, 0.833],
  });
});

test('swung, what stands between the beats is late; the beats stay', () => {
  expect(strokes(grid(4), 0, 1, { pace: 1, swing: 0.66 }).light).toEqual([0, 0.33, 0.5, 0.83]);
});

test('half time: big, side a bar apart; in three over two bars', () => {
  expect(strokes(grid(4), 0, 4, { pace: 0.5, swing: 0.5 })).toMatchObject({ big: [0, 2], side: [1, 3] });
  expect(strokes(grid(3), 0, 3, { pace: 0.5, swing: 0.5 })).toMatchObject({ big: [0], side: [1, 2] });
});

test('stretches that meet share no stroke and lose none', () => {
  const of = { ...grid(5), tempoBpm: 113.87, one: 0.0371 };
  const whole: string[] = [];
  const pace: PatternPace = { pace: 2, swing: 0.61 };
  eachStroke(of, -500, 6000, RATE, pace, (frame, stroke) => whole.push(`${stroke} ${frame}`));
  for (const step of [7, 128, 0.5]) {
    const parts: string[] = [];
    for (let at = -500; at < 6000; at += step)
      eachStroke(of, at, Math.min(6000, at + step), RATE, pace, (frame, stroke) =>
        parts.push(`${stroke} ${frame}`),
      );
    expect(parts).toEqual(whole);
  }
});

test.each(STROKES)('“%s” is loudest in its first sample and dies away', (stroke) => {
  const samples = drumSamples(44_100)[stroke];
  expect(samples[0]).toBe(1);
  expect(Math.max(...samples.map(Math.abs))).toBeLessThanOrEqual(1);
  expect(Math.abs(samples[samples.length - 1])).toBeLessThan(0.02);
});
