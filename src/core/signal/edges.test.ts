import { findEdges } from './edges';
import { peakPyramid } from './peaks';

const RATE = 8000;
const noise = (seconds: number, level: (t: number) => number) => {
  let seed = 9;
  return peakPyramid(
    [
      Float32Array.from({ length: seconds * RATE }, (_, i) => {
        seed = (seed * 16807) % 2147483647;
        return level(i / RATE) * (seed / 1073741823 - 1);
      }),
    ],
    RATE,
  );
};

test('silence at both ends is found to a tenth of a second', () => {
  const { soundFrom, soundTo, fadeFrom } = findEdges(noise(20, (t) => (t > 2.5 && t < 17 ? 0.5 : 0)));
  expect(Math.abs(soundFrom - 2.5)).toBeLessThan(0.11);
  expect(Math.abs(soundTo - 17)).toBeLessThan(0.11);
  expect(fadeFrom).toBeNull();
});

test('a fade-out is told from an ending', () => {
  const faded = findEdges(noise(40, (t) => 0.5 * Math.min(1, Math.max(0, (38 - t) / 8))));
  expect(faded.fadeFrom).not.toBeNull();
  expect(Math.abs(faded.fadeFrom! - 31.5)).toBeLessThan(2);
  expect(findEdges(noise(40, (t) => (t < 38 ? 0.5 : 0.5 * Math.exp(-(t - 38) / 0.1)))).fadeFrom).toBeNull();
  // Quiet, then loud again, is a passage and no fade.
  expect(findEdges(noise(40, (t) => (t > 25 && t < 36 ? 0.05 : t < 39 ? 0.5 : 0.02))).fadeFrom).toBeNull();
});

test('nothing but silence has no sound at all', () => {
  expect(findEdges(noise(3, () => 0))).toEqual({ soundFrom: 3, soundTo: 3, fadeFrom: null });
});
