import { readFileSync } from 'node:fs';
import { randomFrom } from '@/demo/random';
import { assembleKernels, KERNELS_SOURCE } from '../../../scripts/lib/assembleKernels';
import { kernels, roomForCounts, roomForDoubles, roomForFloats } from './kernels';
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

test('samples are read between rows of taps, each from its own first one on', () => {
  const width = 12;
  const [rows, x] = [filled(noise(4 * width)), filled(noise(40))];
  const places = filled(Float32Array.of(0, 0.25, 1.5, 2, 2.999));
  const firsts = roomForCounts(5);
  firsts.values.set([0, 3, 1, 28, 7]);
  const out = roomForFloats(5);
  kernels.read(rows.address, 4 * width, places.address, firsts.address, x.address, out.address, 5);
  const tap = (place: number, i: number) => {
    const row = Math.floor(place);
    const [near, far] = [row, row + 1].map((one) => rows.values[one * width + i]);
    return near + (place - row) * (far - near);
  };
  expectClose(
    out.values,
    Array.from(places.values, (place, n) =>
      Array.from({ length: width }, (_, i) => tap(place, i) * x.values[firsts.values[n] + i]).reduce(
        (sum, value) => sum + value,
      ),
    ),
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

describe('what frames of bent sound go through', () => {
  test('a frame is windowed under a mask, at a scale', () => {
    const [x, window, mask, out] = [
      filled(noise(70)),
      filled(noise(70)),
      filled(noise(70)),
      roomForFloats(70),
    ];
    kernels.framed(x.address, window.address, mask.address, 0.25, out.address, 70);
    expectClose(
      out.values,
      Array.from(x.values, (value, i) => 0.25 * value * window.values[i] * mask.values[i]),
    );
  });

  test('one is added to another, from any place in it on', () => {
    const [x, sum] = [filled(noise(30)), filled(noise(21))];
    const wanted = Array.from(sum.values, (value, i) => value + x.values[i + 5]);
    kernels.add(x.address + 20, sum.address, 21);
    expectClose(sum.values, wanted);
  });

  test('powers are added up bin by bin', () => {
    const [spectrum, power] = [filled(noise(48)), filled(noise(24))];
    const wanted = Array.from(
      power.values,
      (value, k) => value + spectrum.values[2 * k] ** 2 + spectrum.values[2 * k + 1] ** 2,
    );
    kernels.addPower(spectrum.address, power.address, 24);
    expectClose(power.values, wanted);
  });

  test('bins are turned, and told how far they go on from others', () => {
    const [a, b, c, d] = [filled(noise(16)), filled(noise(16)), filled(noise(32)), roomForFloats(32)];
    kernels.turned(c.address, a.address, b.address, d.address, 16);
    expectClose(
      d.values,
      Array.from(a.values).flatMap((re, k) => {
        const [x, y, im] = [c.values[2 * k], c.values[2 * k + 1], b.values[k]];
        return [x * re - y * im, x * im + y * re];
      }),
    );
    const [re, im, size, now] = [roomForFloats(16), roomForFloats(16), roomForFloats(16), filled(noise(32))];
    kernels.advances(now.address, c.address, re.address, im.address, size.address, 16);
    const at = (k: number) => {
      const [p, q, v, w] = [now.values[2 * k], now.values[2 * k + 1], c.values[2 * k], c.values[2 * k + 1]];
      return [p * v + q * w, q * v - p * w];
    };
    const bins = Array.from({ length: 16 }, (_, k) => at(k));
    expectClose(
      re.values,
      bins.map(([x]) => x),
    );
    expectClose(
      im.values,
      bins.map(([, y]) => y),
    );
    expectClose(
      size.values,
      bins.map(([x, y]) => Math.hypot(x, y)),
    );
  });

  /** Peaks of a power spectrum as (peak, from, until). */
  const peaksOf = (values: readonly number[]) => {
    const power = filled(Float32Array.of(-1, -1, ...values, -1, -1));
    const peaks = roomForCounts(3 * values.length);
    const count = kernels.peaks(power.address + 8, values.length, peaks.address);
    return {
      peaks,
      count,
      told: Array.from({ length: count }, (_, j) => [...peaks.values.subarray(3 * j, 3 * j + 3)]),
    };
  };

  test.each<[string, number[], number[][]]>([
    ['none in silence', [0, 0, 0, 0], []],
    ['one that is all there is', [0, 0, 3, 0, 0], [[2, 0, 5]]],
    [
      'at the beginning and at the end',
      [5, 1, 0.5, 2, 4],
      [
        [0, 0, 2],
        [4, 2, 5],
      ],
    ],
    [
      'parted where it is lowest',
      [1, 4, 3, 0.5, 2, 6, 1],
      [
        [1, 0, 3],
        [5, 3, 7],
      ],
    ],
    ['not one beside a higher one', [1, 4, 2, 5, 1], [[3, 0, 5]]],
    ['the first of two that are alike', [0, 2, 2, 0, 0], [[1, 0, 5]]],
  ])('peaks: %s', (_, values, wanted) => {
    expect(peaksOf(values).told).toEqual(wanted);
  });

  test('what lies about a peak is turned as it was and on by how far the peak went, whatever its size', () => {
    const { peaks, count } = peaksOf([1, 4, 3, 0.5, 2, 6, 1]);
    const turn = (angle: number, size = 1) => [size * Math.cos(angle), size * Math.sin(angle)];
    const spectrum = (...bins: [number, number[]][]) => {
      const made = new Float32Array(14);
      for (const [k, pair] of bins) made.set(pair, 2 * k);
      return filled(made);
    };
    const now = spectrum([1, turn(0.9, 3)], [5, turn(-1, 2)]);
    const then = spectrum([1, turn(0.2, 0.5)], [5, turn(1, 4)]);
    const sums = roomForFloats(4 * count);
    sums.values.fill(0);
    // Two channels alike say the same as one.
    for (let channel = 0; channel < 2; channel++)
      kernels.advancePeaks(peaks.address, count, now.address, then.address, sums.address);
    const was = Array.from({ length: 7 }, (_, k) => turn(0.1 * k));
    const [wasRe, wasIm] = [0, 1].map((part) => filled(Float32Array.from(was, (pair) => pair[part])));
    const [re, im] = [roomForFloats(7), roomForFloats(7)];
    kernels.turnPeaks(
      ...([peaks.address, count, sums.address] as const),
      ...([wasRe.address, wasIm.address, re.address, im.address] as const),
    );
    const angles = Array.from(re.values, (x, k) => Math.atan2(im.values[k], x));
    angles.slice(0, 3).forEach((angle) => expect(angle).toBeCloseTo(0.1 + 0.7, 5));
    angles.slice(3).forEach((angle) => expect(angle).toBeCloseTo(0.5 - 2, 5));
    re.values.forEach((x, k) => expect(Math.hypot(x, im.values[k])).toBeCloseTo(1, 5));
  });

  test('coherence is told along the peaks, without what stands still', () => {
    const { peaks, count } = peaksOf([9, 1, 1.5, 4, 3, 0.5, 2, 6, 1]);
    const [re, im] = [filled(noise(9)), filled(noise(9))];
    const size = filled(Float32Array.from(re.values, (x, k) => Math.hypot(x, im.values[k])));
    const sums = roomForDoubles(2);
    kernels.coherence(peaks.address, count, re.address, im.address, size.address, sums.address);
    let [all, along] = [0, 0];
    for (const [peak, from, until] of [
      [3, 1, 5],
      [7, 5, 9],
    ])
      for (let k = from; k < until; k++) {
        all += size.values[k];
        along += (re.values[k] * re.values[peak] + im.values[k] * im.values[peak]) / size.values[peak];
      }
    expect(sums.values[0]).toBeCloseTo(all, 5);
    expect(sums.values[1]).toBeCloseTo(along, 5);
  });
});
