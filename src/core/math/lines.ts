import { median } from './median';

export interface Line {
  slope: number;
  /** Value at x = 0. */
  intercept: number;
}

/** The line of least (weighted) squares of y over x; NaN where all x are one. */
export function fitLine(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  weights: ArrayLike<number> | null = null,
): Line {
  let [sw, sx, sy] = [0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    const w = weights ? weights[i] : 1;
    sw += w;
    sx += w * x[i];
    sy += w * y[i];
  }
  const [meanX, meanY] = [sx / sw, sy / sw];
  // About the means: sums of squares of far-away places would swallow what tells them apart.
  let [xx, xy] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    const w = weights ? weights[i] : 1;
    xx += w * (x[i] - meanX) ** 2;
    xy += w * (x[i] - meanX) * (y[i] - meanY);
  }
  const slope = xy / xx;
  return { slope, intercept: meanY - slope * meanX };
}

/** Distances of points from a line: positive above it. */
export function residuals(line: Line, x: ArrayLike<number>, y: ArrayLike<number>): number[] {
  return Array.from(x, (at, i) => y[i] - line.intercept - line.slope * at);
}

/**
 * Weights that fall with the distance from a line and end at `reach` median distances, which are taken for no less
 * than `least` (Tukey's biweight, Beaton & Tukey 1974).
 */
export function biweights(distances: readonly number[], reach: number, least: number): number[] {
  const scale = reach * Math.max(least, median(distances.map(Math.abs)));
  return distances.map((r) => (Math.abs(r) < scale ? (1 - (r / scale) ** 2) ** 2 : 0));
}

/**
 * The line that most points agree on: from `start` on, fitted again and again with biweights. Where fewer than two
 * points would be left the line before stays.
 */
export function robustLine(
  x: readonly number[],
  y: readonly number[],
  start: Line,
  { reach, least, passes }: { reach: number; least: number; passes: number },
): Line {
  let line = start;
  for (let pass = 0; pass < passes; pass++) {
    const weights = biweights(residuals(line, x, y), reach, least);
    if (weights.filter((w) => w > 0).length < 2) return line;
    line = fitLine(x, y, weights);
  }
  return line;
}

/**
 * Median of the slopes between points that lie at least `apart` from each other (Theil 1950, Sen 1968), of every
 * `stride`th point; null where there are none.
 */
export function medianSlope(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  apart: number,
  stride = 1,
): number | null {
  const slopes: number[] = [];
  for (let i = 0; i < x.length; i += stride)
    for (let j = i + 1; j < x.length; j += stride)
      if (x[j] !== x[i] && Math.abs(x[j] - x[i]) >= apart) slopes.push((y[j] - y[i]) / (x[j] - x[i]));
  return slopes.length ? median(slopes) : null;
}
