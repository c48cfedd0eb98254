import { besselI0 } from '../signal/halfBand';
import { samplesFrom } from './ear';

/** Zero crossings of the sinc on each side. */
const CROSSINGS = 32;
const BETA = 10;
/** Places between two frames of the source for which the kernel is kept; between them it is straight. */
const PLACES = 512;

/** How the result of a reading goes through its source: frame n of the result stands at `at(n)`, going on by `step`. */
export interface Reading {
  at: (frame: number) => number;
  step: number;
  /** The source goes round. */
  isLoop: boolean;
}

const cutoffOf = (step: number) => Math.min(1, 1 / step) * 0.97;

/** How far from a place the source is read, frames. */
export const reachOf = (step: number): number => Math.ceil(CROSSINGS / cutoffOf(step));

/** What each frame of the source about a place counts, one row of twice the reach for each place between two frames. */
interface Kernel {
  cutoff: number;
  rows: Float32Array[];
}
let last: Kernel | null = null;

/** sinc under a Kaiser window (Smith & Gossett 1984), for one cutoff. The last one is kept: a sample is read with one. */
function kernelFor(step: number): Kernel {
  const cutoff = cutoffOf(step);
  if (last?.cutoff === cutoff) return last;
  const reach = reachOf(step);
  const top = besselI0(BETA);
  const weight = (distance: number) => {
    const x = distance * cutoff;
    if (x >= CROSSINGS) return 0;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    return (cutoff * sinc * besselI0(BETA * Math.sqrt(1 - (x / CROSSINGS) ** 2))) / top;
  };
  const rows = Array.from({ length: PLACES + 1 }, (_, place) =>
    Float32Array.from({ length: 2 * reach }, (_, i) => weight(Math.abs(i - reach + 1 - place / PLACES))),
  );
  return (last = { cutoff, rows });
}

/**
 * Reads all channels at another speed into frames from … until of the result, band-limited, so that nothing folds back.
 */
export function repitch(
  sources: readonly Float32Array[],
  out: readonly Float32Array[],
  from: number,
  until: number,
  { at: placeOf, step, isLoop }: Reading,
) {
  const { rows } = kernelFor(step);
  const reach = reachOf(step);
  const width = 2 * reach;
  // What is read lies in one piece, with what is beyond its ends.
  const low = Math.floor(placeOf(from)) - reach + 1;
  const high = Math.floor(placeOf(until - 1)) + reach + 1;
  const pieces = sources.map((source) => samplesFrom(source, low, high - low, isLoop));
  const weights = new Float32Array(width);
  for (let n = from; n < until; n++) {
    const at = placeOf(n);
    const middle = Math.floor(at);
    const place = (at - middle) * PLACES;
    const row = Math.floor(place);
    const [near, far, share] = [rows[row], rows[row + 1], place - row];
    for (let i = 0; i < width; i++) weights[i] = near[i] + share * (far[i] - near[i]);
    const first = middle - reach + 1 - low;
    for (let c = 0; c < pieces.length; c++) {
      const piece = pieces[c];
      let sum = 0;
      for (let i = 0; i < width; i++) sum += weights[i] * piece[first + i];
      out[c][n] = sum;
    }
  }
}
