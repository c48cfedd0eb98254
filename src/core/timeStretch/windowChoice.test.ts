import { randomFrom } from '@/demo/random';
import { analyserOf } from './analyser';
import { bestWindow, levelsOf, periodOf, steadyWindow } from './windowChoice';

const RATE = 44_100;
const WINDOWS = [2048, 4096, 8192];
const random = randomFrom(23);
const sound = (at: (seconds: number) => number, seconds = 1) =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => at(i / RATE));
const tones =
  (...hertz: number[]) =>
  (seconds: number) =>
    hertz.reduce((sum, one) => sum + Math.sin(2 * Math.PI * one * seconds) / hertz.length, 0);

describe('the shortest frame that tells what sounds apart', () => {
  const best = (...channels: Float32Array[]) =>
    bestWindow(
      WINDOWS,
      8192,
      RATE - 8192,
      analyserOf(channels, false, [-Infinity, Infinity], { rate: 44_100, stride: 1 }),
    );

  test('is the shortest for a tone, and for partials far apart', () => {
    expect(best(sound(tones(440)))).toBe(2048);
    expect(best(sound(tones(440, 1320, 2200)))).toBe(2048);
  });

  test('is a longer one for partials that a short one does not tell apart', () => {
    expect(best(sound(tones(440, 466)))).toBeGreaterThan(2048);
    expect(best(sound(tones(220, 246, 272)))).toBeGreaterThan(2048);
    // None of them tells these apart: then there is no reason for a long one.
    expect(best(sound(tones(220, 229)))).toBe(2048);
  });

  test('hears all channels', () => {
    expect(best(sound(tones(440)), sound(tones(220, 246, 272)))).toBeGreaterThan(2048);
  });

  test('is the only one where there is one, and any in silence', () => {
    expect(
      bestWindow(
        [4096],
        0,
        RATE,
        analyserOf([new Float32Array(RATE)], false, [0, RATE], { rate: 44_100, stride: 1 }),
      ),
    ).toBe(4096);
    expect(WINDOWS).toContain(best(new Float32Array(RATE)));
  });
});

describe('the period of a stretch', () => {
  test.each([55, 110, 261.6, 880])('of %d Hz', (hertz) => {
    const saw = sound((seconds) => 2 * ((seconds * hertz) % 1) - 1);
    expect(periodOf(saw, RATE)! / (RATE / hertz)).toBeCloseTo(1, 1);
  });

  test('is none in noise, in silence, in a chord and where there is too little', () => {
    expect(
      periodOf(
        sound(() => random() - 0.5),
        RATE,
      ),
    ).toBeNull();
    expect(periodOf(new Float32Array(RATE), RATE)).toBeNull();
    expect(periodOf(sound(tones(220, 277.2, 329.6, 415.3)), RATE)).toBeNull();
    expect(periodOf(sound(tones(220)).subarray(0, 50), RATE)).toBeNull();
  });
});

describe('the longest frame within which the level keeps', () => {
  const steady = (samples: Float32Array, place: number) =>
    steadyWindow(WINDOWS, 8192, levelsOf([samples]), place, 0, samples.length);

  test('is the longest in what lasts', () => {
    expect(steady(sound(tones(440)), RATE / 2)).toBe(8192);
  });

  test('is a short one about a place where something ends, and long again away from it', () => {
    const ends = sound((seconds) => (seconds < 0.5 ? tones(440)(seconds) : 0));
    expect(steady(ends, RATE / 2)).toBe(2048);
    expect(steady(ends, RATE / 2 - 6000)).toBe(8192);
  });

  test('levels add up all channels, block by block', () => {
    const [left, right] = [new Float32Array(300).fill(1), new Float32Array(300).fill(2)];
    expect([...levelsOf([left, right])]).toEqual([0, 640, 1280, 1500]);
  });
});
