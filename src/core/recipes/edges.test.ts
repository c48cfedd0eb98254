import { edgeShift, EDGES } from './edges';

const RATE = 44_100;
const BOUNDS = { start: 0.5, end: 0.9 };

/** A hit at 0.507 s with 6 ms of quiet noise that leads into it. */
function ledIn(): Float32Array[] {
  const samples = new Float32Array(RATE);
  const hit = Math.round(0.507 * RATE);
  for (let n = hit - 265; n < hit; n++) samples[n] = 0.04 * Math.sin(n * 1.7) * Math.sin(n * 0.37);
  for (let n = 0; n < 8000; n++) samples[hit + n] += 0.8 * Math.exp(-n / 2000) * Math.cos(n * 0.08);
  return [samples];
}

test('the grid moves nothing', () => expect(edgeShift(ledIn(), RATE, BOUNDS, 'grid')).toBe(0));

test('the body of a hit is where it is loud, its attack no later', () => {
  const body = edgeShift(ledIn(), RATE, BOUNDS, 'body');
  const attack = edgeShift(ledIn(), RATE, BOUNDS, 'attack');
  expect(body).toBeCloseTo(0.007, 4);
  expect(attack).toBeLessThanOrEqual(body);
  expect(attack).toBeGreaterThan(0.0005);
});

test('a zero crossing lies within two ms, and is one', () => {
  const sine = [Float32Array.from({ length: RATE }, (_, n) => Math.sin(n * 0.031))];
  const shift = edgeShift(sine, RATE, BOUNDS, 'zero crossing');
  expect(Math.abs(shift)).toBeLessThanOrEqual(0.002);
  expect(Math.abs(Math.sin((BOUNDS.start + shift) * RATE * 0.031))).toBeLessThan(0.01);
});

test.each(EDGES)('%s: silence is cut where the grid says', (edge) =>
  expect(Math.abs(edgeShift([new Float32Array(RATE)], RATE, BOUNDS, edge))).toBeLessThan(1e-6),
);
