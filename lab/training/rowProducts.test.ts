import { randomFrom } from '@/demo/random';
import { makeRowProducts } from './rowProducts';

const random = randomFrom(5);
const numbers = (count: number) => Float32Array.from({ length: count }, () => random() - 0.5);

test.each([
  [7, 1],
  [24, 7],
  [61, 13],
])('rows of %d observations and %d units: products and slopes are those of plain sums', (size, units) => {
  const flat = numbers(30 * size);
  const some = [3, 29, 4, 0, 17];
  const rows = makeRowProducts(size, units);
  const weights = Array.from({ length: units }, () => numbers(size));
  weights.forEach((unit, u) => rows.weights.set(unit, u * rows.stride));
  const products = rows.multiply(flat, some);
  const rowOf = (r: number) => flat.subarray(some[r] * size, (some[r] + 1) * size);
  some.forEach((_, r) =>
    weights.forEach((unit, u) => {
      const expected = unit.reduce((sum, weight, i) => sum + weight * rowOf(r)[i], 0);
      expect(products[r * rows.unitStride + u]).toBeCloseTo(expected, 4);
    }),
  );

  // Another one works in the same memory meanwhile.
  const other = makeRowProducts(40, 3);
  other.multiply(numbers(400), [1, 2, 3]);
  const pulls = some.map(() => Array.from({ length: units }, () => random() - 0.5));
  pulls.forEach((of, r) => of.forEach((pull, u) => (rows.pulls[r * rows.unitStride + u] = pull)));
  const slopes = rows.slopes();
  for (let u = 0; u < units; u++)
    for (let i = 0; i < size; i++) {
      const expected = some.reduce((sum, _, r) => sum + pulls[r][u] * rowOf(r)[i], 0);
      expect(slopes[u * rows.stride + i]).toBeCloseTo(expected, 4);
    }
});

test('what no pull is on adds nothing, and nothing is left of the last time', () => {
  const rows = makeRowProducts(8, 2);
  const flat = numbers(80);
  rows.multiply(flat, [0, 1]);
  rows.pulls.fill(1);
  expect(rows.slopes().some((value) => value !== 0)).toBe(true);
  rows.multiply(flat, [2, 3]);
  expect(rows.slopes().every((value) => value === 0)).toBe(true);
});
