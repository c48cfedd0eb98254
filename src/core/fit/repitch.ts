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

/**
 * Reads a signal at another speed: sample n of the result stands at `step` · n in the source, band-limited, so that
 * nothing folds back. `isLoop`: the source goes round.
 */
export function repitch(source: Float32Array, step: number, length: number, isLoop: boolean): Float32Array {
  const size = source.length;
  const out = new Float32Array(length);
  const taps = kernel();
  const cutoff = Math.min(1, 1 / step) * 0.97;
  const reach = Math.ceil(CROSSINGS / cutoff);
  const scale = cutoff * FINE;
  for (let n = 0; n < length; n++) {
    const at = n * step;
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
  return out;
}
