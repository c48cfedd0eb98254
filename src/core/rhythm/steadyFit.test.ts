import { randomFrom } from '@/demo/random';
import { fitSteady } from './steadyFit';

const hits = (times: number[]) => times.map((time) => ({ time, strength: 6 }));
const beats = (bpm: number, one: number, count: number) =>
  Array.from({ length: count }, (_, k) => one + (k * 60) / bpm);

test('exact hits give an exact grid', () => {
  const fit = fitSteady(hits(beats(97.31, 0.2, 64)), 60 / 97.5, 0.21)!;
  expect(fit.bpm).toBeCloseTo(97.31, 4);
  expect(Math.abs((fit.anchor - 0.2) % (60 / 97.31))).toBeLessThan(1e-4);
  expect(fit.spreadMs).toBeLessThan(0.1);
});

test('the error it states is about the error that it makes', () => {
  const random = randomFrom(21);
  const within: boolean[] = [];
  for (let run = 0; run < 60; run++) {
    const played = beats(120, 0.5, 48).map((time) => time + 0.02 * (random() + random() - 1));
    const fit = fitSteady(hits(played), 0.5, 0.5)!;
    within.push(Math.abs(fit.bpm - 120) < 2 * fit.bpmError);
  }
  const share = within.filter(Boolean).length / within.length;
  expect(share).toBeGreaterThan(0.85);
});

test('hits off the beat and outliers do not bend it', () => {
  const on = beats(100, 0, 40);
  const off = on.map((time) => time + 0.3 + 0.02);
  const wild = [3.14159, 8.1, 12.77, 19.02];
  const fit = fitSteady(hits([...on, ...off, ...wild].sort((a, b) => a - b)), 0.6, 0.0)!;
  expect(fit.bpm).toBeCloseTo(100, 2);
});

test('fewer than three beats with hits are no grid', () => {
  expect(fitSteady(hits([0, 0.5]), 0.5, 0)).toBeNull();
  expect(fitSteady([], 0.5, 0)).toBeNull();
});
