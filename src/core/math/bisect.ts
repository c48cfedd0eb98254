import { bisectLeft, bisectRight } from 'd3-array';

/** Index of the first of rising values that is not before `x`; their count when all are. */
export const firstNotBefore = (values: ArrayLike<number>, x: number): number => bisectLeft(values, x);

/** Index of the last of rising values that is not after `x`; −1 when all are. */
export const lastNotAfter = (values: ArrayLike<number>, x: number): number => bisectRight(values, x) - 1;
