import { besselI0 } from './halfBand';

/** Samples on each side of which one between them is made. */
export const DENSER_REACH = 12;
const KAISER = 9;

const tables = new Map<number, Float32Array[]>();

/**
 * `count` samples, `times` as dense as `sparse`, the first of which stands at `sparse[DENSER_REACH]`; as many are read
 * beyond both ends. A Kaiser-windowed sinc: flat to 0.7 of the sparse Nyquist frequency, images below −80 dB from
 * 1.3 times it on.
 */
export function denser(sparse: Float32Array, times: number, count: number): Float32Array {
  const table = tableFor(times);
  const out = new Float32Array(count);
  const taps = 2 * DENSER_REACH;
  for (let n = 0; n < count; n++) {
    const first = Math.floor(n / times) + 1;
    const weights = table[n % times];
    let sum = 0;
    for (let t = 0; t < taps; t++) sum += weights[t] * sparse[first + t];
    out[n] = sum;
  }
  return out;
}

/** For each place between two samples, the weights of those from DENSER_REACH − 1 before it on. */
function tableFor(times: number): Float32Array[] {
  const known = tables.get(times);
  if (known) return known;
  const made = Array.from({ length: times }, (_, phase) => {
    const weights = Float64Array.from({ length: 2 * DENSER_REACH }, (_, t) => {
      const away = t - DENSER_REACH + 1 - phase / times;
      const within = Math.max(0, 1 - (away / DENSER_REACH) ** 2);
      return sinc(away) * (besselI0(KAISER * Math.sqrt(within)) / besselI0(KAISER));
    });
    // What stands still is kept exactly.
    const sum = weights.reduce((all, weight) => all + weight, 0);
    return Float32Array.from(weights, (weight) => weight / sum);
  });
  tables.set(times, made);
  return made;
}

const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
