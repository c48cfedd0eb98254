import { randomFrom } from '@/demo/random';
import { addPower, analyserOf, samplesFrom } from './analyser';

const random = randomFrom(17);
const noise = (count: number) => Float32Array.from({ length: count }, () => 2 * random() - 1);

describe('what is heard of a frame', () => {
  const SIZE = 64;
  /** How much of a place is heard between two others, an edge of twelve frames inside of each. */
  const heard = (at: number, low: number, high: number) =>
    Math.max(0, Math.min(1, Math.min(at - low, high - at) / 12));

  test.each([
    ['far from both places', -1000, 1000],
    ['near the first', 80, 1000],
    ['near the last', -1000, 115],
    ['between both, wider than the edges', 75, 118],
    ['between both, narrower than the edges', 92, 108],
    ['beyond the last', -1000, 60],
    ['before the first', 140, 1000],
    ['at places between frames', 83.4, 119.7],
    ['with nothing between them', 100, 100],
  ])('%s', (_, low, high) => {
    const mask = analyserOf([noise(200)], false, [low, high], { rate: 44_100, stride: 1 }).maskAt(
      100,
      new Float32Array(SIZE).fill(7),
    );
    const wanted = Array.from({ length: SIZE }, (_, i) => heard(100 - SIZE / 2 + i, low, high));
    if (wanted.every((one) => one === 1)) expect(mask).toBeNull();
    else wanted.forEach((value, i) => expect(mask![i]).toBeCloseTo(value, 6));
  });

  test('everything, where there are no such places', () => {
    const analyser = analyserOf([noise(200)], false, [-Infinity, Infinity], { rate: 44_100, stride: 1 });
    expect(analyser.maskAt(100, new Float32Array(SIZE))).toBeNull();
  });
});

test('a spectrum is that of the frame under its window and its mask, as the sum of its waves tells', () => {
  const size = 64;
  const source = noise(300);
  const analyser = analyserOf([source], false, [110, 140], { rate: 44_100, stride: 1 });
  const mask = analyser.maskAt(130, new Float32Array(size));
  const spectrum = new Float32Array(size);
  analyser.hear(0, 130, mask, spectrum);
  const frame = Array.from(
    { length: size },
    (_, i) => source[98 + i] * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size)) * mask![i],
  );
  for (const bin of [1, 7, 31]) {
    const part = (wave: (angle: number) => number) =>
      frame.reduce((sum, value, i) => sum + value * wave((2 * Math.PI * bin * i) / size), 0);
    expect(spectrum[2 * bin]).toBeCloseTo(part(Math.cos), 4);
    expect(spectrum[2 * bin + 1]).toBeCloseTo(-part(Math.sin), 4);
  }
});

test('beyond its ends a source is silent, or loops', () => {
  const source = Float32Array.of(1, 2, 3, 4);
  expect([...samplesFrom(source, 1, 2, false)]).toEqual([2, 3]);
  expect([...samplesFrom(source, -2, 8, false)]).toEqual([0, 0, 1, 2, 3, 4, 0, 0]);
  expect([...samplesFrom(source, -2, 8, true)]).toEqual([3, 4, 1, 2, 3, 4, 1, 2]);
  expect([...samplesFrom(source, -9, 2, true)]).toEqual([4, 1]);
});

test('powers of channels are added up; half the rate, which stands beside what stands still, is no part of it', () => {
  const spectra = [noise(64), noise(64)];
  const power = new Float32Array(32);
  for (const spectrum of spectra) addPower(spectrum, power);
  expect(power[0]).toBeCloseTo(spectra[0][0] ** 2 + spectra[1][0] ** 2, 5);
  for (let k = 1; k < 32; k++)
    expect(power[k]).toBeCloseTo(
      spectra.reduce((sum, spectrum) => sum + spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2, 0),
      5,
    );
});

test('every so many samples are read from a place on, over the ends of what loops and not over others', () => {
  const source = Float32Array.from({ length: 10 }, (_, i) => i + 1);
  const read = (from: number, isLoop: boolean) => [...samplesFrom(source, from, 4, isLoop, undefined, 3)];
  expect(read(0, false)).toEqual([1, 4, 7, 10]);
  expect(read(-3, false)).toEqual([0, 1, 4, 7]);
  expect(read(4, false)).toEqual([5, 8, 0, 0]);
  expect(read(-3, true)).toEqual([8, 1, 4, 7]);
  expect(read(4, true)).toEqual([5, 8, 1, 4]);
});

test('an ear that hears every fourth frame hears the same tone, in a quarter of the samples', () => {
  const tone = Float32Array.from({ length: 8192 }, (_, i) => Math.sin((2 * Math.PI * 32 * i) / 2048));
  const heard = (stride: number) => {
    const into = new Float32Array(2048 / stride);
    analyserOf([tone], false, [-Infinity, Infinity], { rate: 44_100, stride }).hear(0, 4096, null, into);
    return Math.hypot(into[64], into[65]) * stride;
  };
  expect(heard(4) / heard(1)).toBeCloseTo(1, 4);
});
