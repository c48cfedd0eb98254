import { lowPassedLoop } from './lowPass';

const BAND = [1000, 2000] as const;
/** A tone that loops after `size` samples. */
const tone = (turns: number, size: number) =>
  Float32Array.from({ length: size }, (_, i) => Math.sin((2 * Math.PI * turns * i) / size));
const level = (samples: Float32Array) =>
  Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0) / samples.length);

test.each([44100, 96000, 22050])(
  'at %i Hz what is below the band stays to the sample, what is above is gone',
  (rate) => {
    // No whole number of blocks.
    const size = Math.round(0.7321 * rate);
    const at = (hz: number) => tone(Math.round((hz * size) / rate), size);
    const below = at(700);
    const kept = lowPassedLoop(below, rate, BAND);
    expect(level(kept.map((value, i) => value - below[i]))).toBeLessThan(1e-3);
    expect(level(lowPassedLoop(at(2600), rate, BAND))).toBeLessThan(1e-3);
    expect(level(lowPassedLoop(at(Math.SQRT2 * 1000), rate, BAND)) / level(below)).toBeCloseTo(0.5, 1);
  },
);

test('what loops has no seam, also where it is shorter than a block', () => {
  const size = 3000;
  const kept = lowPassedLoop(tone(40, size), 44_100, BAND);
  expect(Math.abs(kept[0] - kept[size - 1])).toBeLessThan(0.1);
  expect(level(kept)).toBeCloseTo(Math.SQRT1_2, 3);
});
