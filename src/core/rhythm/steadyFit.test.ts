import { randomFrom } from '@/demo/random';
import type { Onset } from './onsets';
import { fitPlaces, fitSteady } from './steadyFit';

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

describe('all hits of a beat', () => {
  /** Hits on eighths, swung and played with some freedom: how far off each fit is, in per cent. */
  function errors(seed: number, swing: number) {
    const random = randomFrom(seed);
    const period = 0.6123;
    const played: Onset[] = [];
    for (let beat = 0; beat < 16; beat++)
      for (const [place, late] of [
        [0, 0],
        [swing, 0.006],
      ])
        played.push({
          time: 0.3 + (beat + place) * period + late + 0.016 * (random() + random() - 1),
          strength: 2 + 3 * random(),
        });
    const beats = fitSteady(played, period * 1.001, 0.3)!;
    const places = fitPlaces(played, beats);
    const off = (bpm: number) => 100 * Math.abs((bpm * period) / 60 - 1);
    return { beats: off(beats.bpm), places: off(places.bpm), fit: places };
  }

  test.each([
    ['straight', 0.5],
    ['swung', 0.62],
    ['in thirds', 2 / 3],
  ])('%s ones between the beats make the tempo more exact', (_, swing) => {
    const all = Array.from({ length: 40 }, (_, seed) => errors(seed + 1, swing));
    const mean = (pick: (one: (typeof all)[number]) => number) =>
      all.reduce((sum, one) => sum + pick(one), 0) / all.length;
    expect(mean(({ places }) => places)).toBeLessThan(0.85 * mean(({ beats }) => beats));
    // The grid stays on the beats: what comes late between them does not draw it.
    for (const { fit } of all) {
      const off = (fit.anchor - 0.3) / (60 / fit.bpm);
      expect(Math.abs(off - Math.round(off)) * (60 / fit.bpm)).toBeLessThan(0.012);
    }
  });

  test('its standard error is as large as its error', () => {
    const all = Array.from({ length: 60 }, (_, seed) => errors(seed + 100, 0.5));
    const within = all.filter(({ places, fit }) => places < (200 * fit.bpmError) / fit.bpm).length;
    // Within two standard errors in nineteen of twenty cases.
    expect(within / all.length).toBeGreaterThan(0.8);
  });

  test('hits on beats alone are left as they were fitted', () => {
    const plain = hits(beats(120, 0.1, 12));
    const fit = fitSteady(plain, 0.5, 0.1)!;
    expect(fitPlaces(plain, fit).bpm).toBeCloseTo(120, 6);
  });
});
