import { median as medianOf } from 'd3-array';

/** Median; the mean of the two middle values for even counts. Throws RangeError for nothing. */
export function median(values: readonly number[]): number {
  const found = medianOf(values);
  if (found === undefined) throw new RangeError('median of nothing');
  return found;
}

/** The value in the middle, of two the upper: always one that was there. Throws RangeError for nothing. */
export function middleValue(values: readonly number[]): number {
  if (values.length === 0) throw new RangeError('middle of nothing');
  return [...values].sort((a, b) => a - b)[values.length >> 1];
}

/** The value at which half of all weight is reached; 0 for nothing. */
export function weightedMedian(values: readonly { value: number; weight: number }[]): number {
  const sorted = [...values].sort((a, b) => a.value - b.value);
  const half = sorted.reduce((sum, { weight }) => sum + weight, 0) / 2;
  let sum = 0;
  for (const { value, weight } of sorted) {
    sum += weight;
    if (sum >= half) return value;
  }
  return 0;
}

/** The middle (of two the upper) of the first `count` values, which are put in order: for few, and often. */
export function middleInPlace(values: Float32Array, count: number): number {
  for (let i = 1; i < count; i++) {
    const value = values[i];
    let j = i - 1;
    while (j >= 0 && values[j] > value) {
      values[j + 1] = values[j];
      j--;
    }
    values[j + 1] = value;
  }
  return values[count >> 1];
}
