import { randomFrom } from '@/demo/random';
import type { RhythmHypothesis } from '../rhythm/hypotheses';
import { gridBeats } from '../rhythm/lattice';
import type { Onset } from '../rhythm/onsets';
import { fitSteady } from '../rhythm/steadyFit';
import { exactTempo, oddsOfWhole } from './exactTempo';

test('a sharp fit on a whole number was set as one', () => {
  expect(oddsOfWhole(128.002, 0.003)).toBeGreaterThan(20);
});

test('a sharp fit beside one was not', () => {
  expect(oddsOfWhole(141.04, 0.004)).toBeLessThan(0.01);
  expect(oddsOfWhole(88.75, 0.02)).toBeLessThan(0.01);
});

test('a blunt fit is drawn to a whole number in its reach, as far as its error allows', () => {
  expect(oddsOfWhole(100.8, 0.2)).toBeGreaterThan(1);
  expect(oddsOfWhole(100.6, 0.1)).toBeLessThan(0.1);
});

test('where nothing is known nothing is decided', () => {
  expect(oddsOfWhole(100.5, 5)).toBeLessThan(1);
});

describe('the tempo of a steady recording', () => {
  const bar = { beatsPerBar: 4 };
  /** Two bars of quarters at a tempo, each hit off by up to so many milliseconds. */
  function found(bpm: number, looseMs: number, freely = false) {
    const random = randomFrom(Math.round(bpm * 10));
    const onsets: Onset[] = Array.from({ length: 16 }, (_, k) => ({
      time: 0.2 + (k * 30) / bpm + (looseMs / 1000) * (2 * random() - 1),
      strength: 5,
    }));
    const fit = fitSteady(onsets, 60 / bpm, 0.2)!;
    const beats = gridBeats(fit.anchor, 60 / fit.bpm, 8);
    const hypothesis = { fit, beats, bar, steady: true } as unknown as RhythmHypothesis;
    return exactTempo(hypothesis, undefined, onsets, 8, freely)!;
  }

  test('that was set is drawn to the whole number, unless somebody plays freely', () => {
    expect(found(128, 1).bpm).toBe(128);
    expect(found(128, 6).bpm).toBe(128);
    const free = found(128, 6, true);
    expect(free.bpm).not.toBe(128);
    expect(Math.abs(free.bpm - 128)).toBeLessThan(4 * free.bpmError);
  });

  test('that is clearly no whole number stays', () => {
    expect(Math.abs(found(128.4, 0.5).bpm - 128.4)).toBeLessThan(0.05);
  });

  test('its grid stays with the hits when it is drawn', () => {
    const { bpm, anchor } = found(128, 4);
    const off = (0.2 + 240 / 128 - anchor) / (60 / bpm);
    expect(Math.abs(off - Math.round(off)) * (60 / bpm)).toBeLessThan(0.004);
  });
});
