import { randomFrom } from '@/demo/random';
import { addRoom, compress, limit, master, soften, tilt } from './production';

const RATE = 8000;
const sine = (hz: number, seconds: number, gain = 1) =>
  Float32Array.from(
    { length: Math.round(seconds * RATE) },
    (_, i) => gain * Math.sin((2 * Math.PI * hz * i) / RATE),
  );
const rms = (samples: Float32Array, from = 0, to = samples.length) =>
  Math.sqrt(samples.subarray(from, to).reduce((sum, value) => sum + value * value, 0) / (to - from));
const decibels = (ratio: number) => 20 * Math.log10(ratio);

test('compression brings loud and quiet nearer together, by the ratio above the threshold', () => {
  const loud = sine(440, 1);
  const quiet = sine(440, 1, 0.1);
  const samples = new Float32Array([...loud, ...quiet]);
  compress(samples, RATE, { depth: 20, ratio: 4, attack: 0.001, release: 0.05 });
  const apart = decibels(rms(samples, RATE / 2, RATE) / rms(samples, (3 * RATE) / 2, 2 * RATE));
  // 20 dB apart before, the louder one 20 dB above the threshold: 20 / 4 stay, less what the ripple of the detector leaves.
  expect(apart).toBeGreaterThan(4);
  expect(apart).toBeLessThan(9);
});

test('what is under the threshold is left as it is', () => {
  const samples = sine(440, 0.5, 0.5);
  samples[0] = 10;
  const before = samples.slice();
  compress(samples, RATE, { depth: 20, ratio: 8, attack: 0.0005, release: 0.001 });
  for (let i = 1000; i < samples.length; i++) expect(samples[i]).toBeCloseTo(before[i], 5);
});

test('limiting never goes beyond the level, and bends what is loud more than what is quiet', () => {
  const samples = sine(100, 0.5);
  const quiet = samples.findIndex((value) => value > 0.1);
  const before = samples[quiet];
  limit(samples, 4, 0.8);
  expect(Math.max(...samples)).toBeLessThanOrEqual(0.8);
  expect(samples[quiet] / before).toBeGreaterThan(Math.max(...samples));
});

test('a tilt lifts what is above it by so many decibels against what is below', () => {
  const low = sine(50, 1);
  const high = sine(3000, 1);
  const before = decibels(rms(high) / rms(low));
  tilt(low, RATE, 500, 12);
  tilt(high, RATE, 500, 12);
  expect(decibels(rms(high) / rms(low)) - before).toBeGreaterThan(9);
  expect(decibels(rms(high) / rms(low)) - before).toBeLessThan(13);
});

test('a room rings on after a click, by 60 dB in its time of decay', () => {
  const samples = new Float32Array(2 * RATE);
  samples[0] = 1;
  addRoom(samples, RATE, 0.5, 0.5);
  const early = rms(samples, 0.1 * RATE, 0.2 * RATE);
  const late = rms(samples, 0.6 * RATE, 0.7 * RATE);
  expect(early).toBeGreaterThan(0);
  // The damping in its loops makes it somewhat drier than that.
  expect(decibels(late / early)).toBeLessThan(-50);
});

test('softening takes the treble and leaves the bass', () => {
  const [low, high] = [sine(30, 0.5), sine(3500, 0.5)];
  soften(low, 0.3);
  soften(high, 0.3);
  expect(rms(low)).toBeGreaterThan(0.65);
  expect(rms(high)).toBeLessThan(0.2);
});

test('a master is finite, full and the same for the same seed', () => {
  const made = () => {
    const samples = sine(200, 0.5, 0.3);
    for (let i = 0; i < samples.length; i++) samples[i] *= i % 2000 < 300 ? 1 : 0.1;
    master(samples, RATE, randomFrom(5));
    return samples;
  };
  const samples = made();
  expect(samples.every(Number.isFinite)).toBe(true);
  expect(Math.max(...samples)).toBeGreaterThan(0.4);
  expect(Array.from(samples)).toEqual(Array.from(made()));
});
