import { randomFrom } from '@/demo/random';
import { autocorrelation, realFft } from './fft';

test.each([16, 32, 256, 1024])('the spectrum of %i random samples is that of the defining sum', (size) => {
  const random = randomFrom(size);
  const input = Float64Array.from({ length: size }, () => random() - 0.5);
  const re = new Float64Array(size / 2 + 1);
  const im = new Float64Array(size / 2 + 1);
  realFft(size).forward(input, re, im);
  for (let k = 0; k <= size / 2; k += Math.max(1, size / 64)) {
    let sumRe = 0;
    let sumIm = 0;
    for (let n = 0; n < size; n++) {
      sumRe += input[n] * Math.cos((2 * Math.PI * k * n) / size);
      sumIm -= input[n] * Math.sin((2 * Math.PI * k * n) / size);
    }
    expect(re[k]).toBeCloseTo(sumRe, 9);
    expect(im[k]).toBeCloseTo(sumIm, 9);
  }
});

test('sizes that are no power of two are refused', () => {
  expect(() => realFft(1000)).toThrow(RangeError);
  expect(() => realFft(8)).toThrow(RangeError);
});

test('autocorrelation is the sum of lagged products', () => {
  const random = randomFrom(3);
  const x = Float64Array.from({ length: 300 }, () => random() - 0.5);
  const found = autocorrelation(x, 50);
  for (const lag of [0, 1, 17, 50]) {
    let sum = 0;
    for (let i = 0; i + lag < x.length; i++) sum += x[i] * x[i + lag];
    expect(found[lag]).toBeCloseTo(sum, 9);
  }
});
