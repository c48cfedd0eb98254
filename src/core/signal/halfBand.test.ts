import { createHalfBand } from './halfBand';

const tone = (hz: number, rate: number, length: number) =>
  Float32Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));

function halved(input: Float32Array, block = input.length): Float32Array {
  const half = createHalfBand();
  const parts: number[] = [];
  for (let at = 0; at < input.length; at += block) parts.push(...half.push(input.subarray(at, at + block)));
  parts.push(...half.finish());
  return Float32Array.from(parts);
}

const middleRms = (x: Float32Array) => {
  const middle = x.subarray(x.length >> 2, (3 * x.length) >> 2);
  return Math.sqrt(middle.reduce((sum, value) => sum + value * value, 0) / middle.length);
};

test('a tone in the pass band keeps its place and its level', () => {
  const out = halved(tone(1000, 44100, 8820));
  const expected = tone(1000, 22050, 4410);
  expect(out).toHaveLength(4410);
  for (let i = 100; i < 4300; i++) expect(Math.abs(out[i] - expected[i])).toBeLessThan(2e-4);
});

test('what would alias into the lower half is gone', () => {
  // 19 kHz would come back at 3.05 kHz.
  expect(20 * Math.log10(middleRms(halved(tone(19000, 44100, 16384))) / Math.SQRT1_2)).toBeLessThan(-75);
});

test('an odd length gives half, rounded up', () => {
  expect(halved(new Float32Array(7))).toHaveLength(4);
  expect(halved(new Float32Array(0))).toHaveLength(0);
});

test('blocks of any size give the same samples', () => {
  const input = tone(440, 44100, 3001);
  const whole = halved(input);
  for (const block of [1, 7, 64, 1000]) expect(halved(input, block)).toEqual(whole);
});
