import { readFileSync } from 'node:fs';
import { randomFrom } from '@/demo/random';
import { assembleKernels, KERNELS_SOURCE } from '../../../scripts/lib/assembleKernels';
import { kernels, roomForCounts, roomForFloats } from './kernels';
import stored from './kernels.json' with { type: 'json' };

const random = randomFrom(3);
const noise = (count: number) => Float32Array.from({ length: count }, () => 2 * random() - 1);

function filled(values: Float32Array) {
  const room = roomForFloats(values.length);
  room.values.set(values);
  return room;
}

const expectClose = (found: Float32Array, wanted: readonly number[]) => {
  expect(found).toHaveLength(wanted.length);
  wanted.forEach((value, i) => expect(Math.abs(found[i] - value)).toBeLessThan(2e-6 * (1 + Math.abs(value))));
};

test('what is loaded is what the source says', async () => {
  expect(stored.wasm).toBe(await assembleKernels(readFileSync(KERNELS_SOURCE, 'utf8')));
});

test.each([4, 7, 64, 129])('%i samples are parted into even and odd ones', (count) => {
  const x = filled(noise(2 * count));
  const [even, odd] = [roomForFloats(count), roomForFloats(count)];
  kernels.split(x.address, even.address, odd.address, count);
  expect(Array.from(even.values)).toEqual(Array.from(x.values.filter((_, i) => i % 2 === 0)));
  expect(Array.from(odd.values)).toEqual(Array.from(x.values.filter((_, i) => i % 2 === 1)));
});

test.each([1, 4, 30])('%i samples are halved', (count) => {
  const [even, odd, taps] = [filled(noise(count)), filled(noise(count + 23)), filled(noise(12))];
  const out = roomForFloats(count);
  kernels.halve(even.address, odd.address, taps.address, out.address, count);
  expectClose(
    out.values,
    Array.from(
      { length: count },
      (_, n) =>
        even.values[n] / 2 +
        taps.values.reduce((sum, tap, t) => sum + tap * (odd.values[n + 11 - t] + odd.values[n + 12 + t]), 0),
    ),
  );
});

test('a frame is windowed, also in its own place, and its energy told', () => {
  const [x, window] = [filled(noise(256)), filled(noise(256))];
  const wanted = Array.from(x.values, (value, i) => value * window.values[i]);
  const energy = kernels.windowed(x.address, window.address, x.address, 256);
  expectClose(x.values, wanted);
  expect(energy).toBeCloseTo(
    wanted.reduce((sum, value) => sum + value * value, 0),
    3,
  );
});

test('magnitudes of a spectrum, one by one', () => {
  const spectrum = filled(noise(2 * 21));
  const out = roomForFloats(21);
  kernels.magnitudes(spectrum.address, out.address, 21);
  expectClose(
    out.values,
    Array.from(out.values, (_, k) => Math.hypot(spectrum.values[2 * k], spectrum.values[2 * k + 1])),
  );
});

test('mean powers of bands of one bin and more', () => {
  const spectrum = filled(noise(2 * 40));
  const starts = roomForCounts(6);
  starts.values.set([1, 2, 4, 7, 13, 40]);
  const out = roomForFloats(5);
  kernels.bandPowers(spectrum.address, starts.address, out.address, 5);
  expectClose(
    out.values,
    Array.from(out.values, (_, b) => {
      const [from, to] = starts.values.subarray(b, b + 2);
      return spectrum.values.subarray(2 * from, 2 * to).reduce((sum, x) => sum + x * x, 0) / (to - from);
    }),
  );
});

test('room that is asked for beyond the memory is refused', () => {
  expect(() => roomForFloats(1e7)).toThrow(RangeError);
});
