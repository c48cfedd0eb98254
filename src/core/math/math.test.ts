import { firstNotBefore, lastNotAfter } from './bisect';
import { biweights, fitLine, medianSlope, residuals, robustLine } from './lines';
import { median, middleInPlace, middleValue, weightedMedian } from './median';

test('bisecting finds the neighbours of a value, also where it stands more than once or outside', () => {
  const values = [1, 2, 2, 2, 5];
  expect([0, 1, 1.5, 2, 3, 5, 6].map((x) => firstNotBefore(values, x))).toEqual([0, 0, 1, 1, 4, 4, 5]);
  expect([0, 1, 1.5, 2, 3, 5, 6].map((x) => lastNotAfter(values, x))).toEqual([-1, 0, 0, 3, 3, 4, 4]);
  expect(firstNotBefore([], 1)).toBe(0);
  expect(lastNotAfter(new Float64Array(0), 1)).toBe(-1);
});

test('middles: between two, the upper of two, by weight, and of a part', () => {
  expect(median([9, 1, 4])).toBe(4);
  expect(median([10, 1, 4, 2])).toBe(3);
  expect(middleValue([10, 1, 4, 2])).toBe(4);
  expect(() => median([])).toThrow(RangeError);
  expect(() => middleValue([])).toThrow(RangeError);
  const heavy = [
    { value: 7, weight: 1 },
    { value: 3, weight: 5 },
    { value: 9, weight: 1 },
  ];
  expect(weightedMedian(heavy)).toBe(3);
  expect(weightedMedian([])).toBe(0);
  expect(middleInPlace(Float32Array.from([5, 1, 3, 0, 0]), 3)).toBe(3);
});

test('a line through points far from nought keeps its slope to the last digit', () => {
  const x = Array.from({ length: 50 }, (_, i) => 1e6 + i);
  const line = fitLine(
    x,
    x.map((at) => 3e5 + 0.682 * (at - 1e6)),
  );
  expect(line.slope).toBeCloseTo(0.682, 10);
  expect(line.intercept + line.slope * 1e6).toBeCloseTo(3e5, 6);
  const weighted = fitLine([0, 1, 2], [0, 1, 9], [1, 1, 0]);
  expect(weighted).toEqual({ slope: 1, intercept: 0 });
});

test('one point far off does not turn a robust line; it only counts where all are asked', () => {
  const x = [0, 1, 2, 3, 4, 5];
  const y = [0.01, 1.02, 1.98, 3, 4.01, 9];
  const settings = { reach: 5, least: 0.005, passes: 5 };
  expect(fitLine(x, y).slope).toBeGreaterThan(1.3);
  const start = { slope: medianSlope(x, y, 0)!, intercept: 0 };
  const line = robustLine(x, y, start, settings);
  expect(line.slope).toBeCloseTo(1, 1);
  expect(residuals(line, x, y)[5]).toBeGreaterThan(3.9);
  // With a start that nothing agrees with there is nothing to fit: it stays.
  expect(robustLine([0, 1], [0, 100], { slope: 0, intercept: -1e9 }, { ...settings, reach: 0.1 })).toEqual({
    slope: 0,
    intercept: -1e9,
  });
});

test('weights fall to nought at their reach', () => {
  expect(biweights([0, 1, -1, 100], 2, 0.1)).toEqual([1, (1 - 1 / 4) ** 2, (1 - 1 / 4) ** 2, 0]);
});

test('slopes are taken between points that lie far enough apart', () => {
  expect(medianSlope([0, 1, 10], [0, 50, 10], 5)).toBeCloseTo((1 + -40 / 9) / 2);
  expect(medianSlope([0, 1], [0, 1], 5)).toBeNull();
  expect(medianSlope([10, 0], [10, 0], 0)).toBe(1);
});
