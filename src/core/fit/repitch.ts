import { besselI0 } from '../signal/halfBand';

/** Zero crossings of the sinc on each side. */
const CROSSINGS = 32;
const BETA = 10;
/** Points of the kernel between two zero crossings; between them it is straight. */
const FINE = 512;

let table: Float32Array | null = null;

/** sinc under a Kaiser window (Smith & Gossett 1984), from its middle on. */
function kernel(): Float32Array {
  if (table) return table;
  const size = CROSSINGS * FINE;
  table = new Float32Array(size + 2);
  for (let i = 0; i <= size; i++) {
    const x = i / FINE;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    table[i] = (sinc * besselI0(BETA * Math.sqrt(1 - (x / CROSSINGS) ** 2))) / besselI0(BETA);
  }
  return table;
}

/** How the result of a reading goes through its source: frame n of the result stands at `at(n)`, going on by `step`. */
export interface Reading {
  at: (frame: number) => number;
  step: number;
  /** The source goes round. */
  isLoop: boolean;
}

/** How far from a place the source is read, frames. */
export const reachOf = (step: number): number => Math.ceil(CROSSINGS / cutoffOf(step));

const cutoffOf = (step: number) => Math.min(1, 1 / step) * 0.97;

/** Reads a signal at another speed into frames from … until of the result, band-limited, so that nothing folds back. */
export function repitch(
  source: Float32Array,
  out: Float32Array,
  from: number,
  until: number,
  { at: placeOf, step, isLoop }: Reading,
) {
  const size = source.length;
  const taps = kernel();
  const cutoff = cutoffOf(step);
  const reach = reachOf(step);
  const scale = cutoff * FINE;
  for (let n = from; n < until; n++) {
    const at = placeOf(n);
    const middle = Math.floor(at);
    let sum = 0;
    for (let i = middle - reach + 1; i <= middle + reach; i++) {
      const x = Math.abs(at - i) * scale;
      const t = Math.floor(x);
      if (t >= CROSSINGS * FINE) continue;
      const tap = taps[t] + (x - t) * (taps[t + 1] - taps[t]);
      const k = isLoop ? ((i % size) + size) % size : i;
      if (k >= 0 && k < size) sum += tap * source[k];
    }
    out[n] = sum * cutoff;
  }
}
