import { FRAME_RATE, REGISTERS, type OnsetFeatures } from './onsetFeatures';
import { makeSpanEvidence, spanHypotheses, SPANS } from './spans';

function features(seconds: number): OnsetFeatures {
  const frames = Math.round(seconds * FRAME_RATE);
  return {
    frames,
    registers: Array.from({ length: REGISTERS }, () => new Float32Array(frames)),
    strength: new Float32Array(frames),
    levelDb: new Float32Array(frames).fill(-20),
    centroidHz: 1000,
    flatness: 0.2,
  };
}

function evidenceOf(seconds: number, hits: number[]) {
  return makeSpanEvidence(
    seconds,
    features(seconds),
    hits.map((time) => ({ time, strength: 5 })),
    { start: hits[0] ?? 0, end: seconds },
  );
}
const everyHalf = (from: number, to: number) =>
  Array.from({ length: Math.floor((to - from) / 0.5) }, (_, i) => from + i * 0.5);

test('a file that is whole bars long has the whole file among its spans, and it is exact', () => {
  const spans = spanHypotheses(evidenceOf(8, everyHalf(0, 8)), 0, 2);
  const whole = spans.find(({ start, end }) => start === 0 && end === 8)!;
  expect(whole).toMatchObject({ bars: 4, exact: true });
  expect(whole.observed[SPANS.indexOf('bars4')]).toBe(1);
});

test('spans lie within the file, on downbeats, best first', () => {
  const spans = spanHypotheses(evidenceOf(9.3, everyHalf(0.4, 9)), 4.4, 2);
  expect(spans.length).toBeGreaterThan(2);
  for (const { start, end, bars, exact } of spans) {
    expect(start).toBeGreaterThanOrEqual(-0.03);
    expect(end).toBeLessThanOrEqual(9.33);
    expect(end - start).toBeCloseTo(bars * 2, 9);
    expect(Math.abs((start - 4.4) / 2 - Math.round((start - 4.4) / 2))).toBeLessThan(1e-9);
    expect(exact).toBe(false);
  }
  const scores = spans.map(({ score }) => score);
  expect(scores).toEqual([...scores].sort((a, b) => b - a));
});

test('hits before the start and after the end are seen', () => {
  const spans = spanHypotheses(evidenceOf(9, everyHalf(0, 9)), 0.5, 2);
  const later = spans.find(({ start, bars }) => start === 0.5 && bars === 4)!;
  expect(later.observed[SPANS.indexOf('hitsBefore')]).toBeGreaterThan(0);
  expect(later.observed[SPANS.indexOf('startsAtEdge')]).toBe(0);
});

test('what begins late may begin with the bar in which it is first heard', () => {
  const starts = (sound: number) =>
    new Set(spanHypotheses(evidenceOf(20, everyHalf(sound, 20)), 0.5, 2).map(({ start }) => start));
  expect(starts(0.5)).toEqual(new Set([0.5, 2.5]));
  expect(starts(8.5)).toEqual(new Set([0.5, 2.5, 8.5]));
  expect(starts(9.5)).toEqual(new Set([0.5, 2.5, 8.5]));
});

test('a file shorter than a bar has no span', () => {
  expect(spanHypotheses(evidenceOf(1.5, [0, 0.5, 1]), 0, 2)).toEqual([]);
});
