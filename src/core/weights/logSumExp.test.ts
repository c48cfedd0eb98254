import { logSumExp } from './logSumExp';

test('is the logarithm of the sum of what the scores stand for', () => {
  expect(logSumExp([Math.log(2), Math.log(3), Math.log(5)])).toBeCloseTo(Math.log(10), 12);
  expect(logSumExp([-4.2])).toBe(-4.2);
});

test('is worth no less than the best of them and no more than all being as good', () => {
  const scores = [0.3, -2, 1.7, 1.2];
  expect(logSumExp(scores)).toBeGreaterThan(1.7);
  expect(logSumExp(scores)).toBeLessThan(1.7 + Math.log(scores.length));
});

test('bears scores whose exponentials no number holds', () => {
  expect(logSumExp([1000, 1000])).toBeCloseTo(1000 + Math.LN2, 9);
  expect(logSumExp([-1000, -1001])).toBeCloseTo(-1000 + Math.log1p(Math.exp(-1)), 9);
});

test('of nothing is nothing', () => {
  expect(logSumExp([])).toBe(-Infinity);
});
