import { nearestZeroCrossing, quietestShift, seamFigures } from './seam';

const RATE = 44100;
const sine = (hz: number, seconds: number, amplitude = 0.5) =>
  Float32Array.from(
    { length: seconds * RATE },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / RATE),
  );

test('a loop of whole periods has no step; one that ends on a crest has its height', () => {
  const tone = sine(100, 2);
  expect(Math.abs(seamFigures([tone], RATE, 0, 1).step)).toBeLessThan(0.01);
  const crest = seamFigures([tone], RATE, 0, 1.0025);
  expect(crest.step).toBeCloseTo(-0.5, 1);
  expect(crest.stepRatio).toBeGreaterThan(20);
});

test('the quietest shift keeps the length and finds the crossing', () => {
  const tone = sine(100, 2);
  const shift = quietestShift([tone], RATE, 0.5025, 1.5025);
  expect(seamFigures([tone], RATE, 0.5025 + shift, 1.5025 + shift).stepRatio).toBeLessThan(2);
  expect(Math.abs(tone[Math.round((0.5025 + shift) * RATE)])).toBeLessThan(0.02);
});

test('a hit that begins the loop is not cut into', () => {
  const audio = sine(80, 3, 0.2);
  for (const at of [0.5, 2.5])
    for (let i = 0; i < 4000; i++) audio[at * RATE + i] += 0.7 * Math.exp(-i / 900) * Math.cos(i * 0.2);
  const shift = quietestShift([audio], RATE, 0.499, 2.499);
  expect(shift).toBeLessThanOrEqual(0.0012);
  expect(shift).toBeGreaterThanOrEqual(-0.005);
});

test('a tail that rings over the end is told by its level and length', () => {
  const audio = new Float32Array(3 * RATE);
  for (let i = 0; i < RATE * 2.8; i++)
    audio[i] = 0.5 * Math.sin(i * 0.05) * (i < RATE ? 1 : Math.exp(-(i - RATE) / (0.1 * RATE)));
  const { tailDb, tailSeconds, levelDb } = seamFigures([audio], RATE, 0, 1);
  expect(tailDb).toBeGreaterThan(-4);
  // Thirty decibels of a decay of 100 ms.
  expect(Math.abs(tailSeconds! - 0.345)).toBeLessThan(0.05);
  expect(Math.abs(levelDb)).toBeLessThan(1);
  expect(seamFigures([audio.subarray(0, RATE)], RATE, 0, 1)).toMatchObject({
    tailDb: null,
    tailSeconds: null,
  });
});

test('a hit that follows the end is no tail', () => {
  const audio = sine(100, 2, 0.02);
  for (let i = RATE; i < RATE + 8000; i++) audio[i] += 0.6 * Math.exp(-(i - RATE) / 3000) * Math.cos(i * 0.1);
  expect(seamFigures([audio], RATE, 0, 1)).toMatchObject({ tailDb: null, tailSeconds: null });
});

test('bounds outside the audio are refused', () => {
  expect(() => seamFigures([sine(100, 1)], RATE, 0.5, 1.5)).toThrow(RangeError);
  expect(() => seamFigures([sine(100, 1)], RATE, 0.5, 0.5)).toThrow(RangeError);
});

test('the nearest zero crossing lies between two samples', () => {
  const tone = sine(220, 1);
  const crossing = nearestZeroCrossing([tone], RATE, 0.101);
  expect(Math.abs(Math.sin(2 * Math.PI * 220 * crossing))).toBeLessThan(0.001);
  expect(nearestZeroCrossing([new Float32Array(RATE).fill(0.3)], RATE, 0.5)).toBe(0.5);
});
