import { randomFrom } from '@/demo/random';
import { autocorrelation, realFft } from './fft';

test.each([32, 256, 1024])('the spectrum of %i random samples is that of the defining sum', (size) => {
  const random = randomFrom(size);
  const input = Float32Array.from({ length: size }, () => random() - 0.5);
  const fft = realFft(size);
  fft.input.set(input);
  const spectrum = fft.forward();
  for (let k = 0; k <= size / 2; k += Math.max(1, size / 64)) {
    let re = 0;
    let im = 0;
    for (let n = 0; n < size; n++) {
      re += input[n] * Math.cos((2 * Math.PI * k * n) / size);
      im -= input[n] * Math.sin((2 * Math.PI * k * n) / size);
    }
    if (k === 0) expect(spectrum[0]).toBeCloseTo(re, 4);
    else if (k === size / 2) expect(spectrum[1]).toBeCloseTo(re, 4);
    else {
      expect(spectrum[2 * k]).toBeCloseTo(re, 4);
      expect(spectrum[2 * k + 1]).toBeCloseTo(im, 4);
    }
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
    expect(found[lag]).toBeCloseTo(sum, 4);
  }
});
