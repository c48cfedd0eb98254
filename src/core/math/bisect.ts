/** Index of the first of rising values that is not before `x`; their count when all are. */
export function firstNotBefore(values: ArrayLike<number>, x: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] < x) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Index of the last of rising values that is not after `x`; −1 when all are. */
export function lastNotAfter(values: ArrayLike<number>, x: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] <= x) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
