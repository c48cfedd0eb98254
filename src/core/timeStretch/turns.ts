import { kernels } from '../signal/kernels';
import { buffersOf, type Buffers } from './buffers';

/** By how much each bin of a spectrum is turned: complex numbers of size 1. */
export interface Turns {
  re: Float32Array;
  im: Float32Array;
}

export const makeTurns = (bins: number): Turns => ({
  re: new Float32Array(bins).fill(1),
  im: new Float32Array(bins),
});

/** The same turns at the frequencies of so many bins. */
export function turnsFor(bins: number, turns: Turns): Turns {
  if (turns.re.length === bins) return turns;
  const made = makeTurns(bins);
  const ratio = turns.re.length / bins;
  for (let k = 0; k < bins; k++) {
    const from = Math.min(turns.re.length - 1, Math.round(k * ratio));
    made.re[k] = turns.re[from];
    made.im[k] = turns.im[from];
  }
  return made;
}

/** How far a spectrum goes on from another at one bin, all channels together: a complex number. */
export function advanceAt(
  bin: number,
  now: readonly Float32Array[],
  then: readonly Float32Array[],
  channels: number,
): [number, number] {
  let [re, im] = [0, 0];
  for (let c = 0; c < channels; c++) {
    const [a, b] = [now[c][2 * bin], now[c][2 * bin + 1]];
    const [x, y] = [then[c][2 * bin], then[c][2 * bin + 1]];
    re += a * x + b * y;
    im += b * x - a * y;
  }
  return [re, im];
}

/**
 * Turns each peak on, from how it was turned a hop before (`was`), by as much as `to` stands on from `from` there: by what the result goes
 * on over the hop less what the source goes on between the two frames. What lies around a peak, to the valleys, is turned with it
 * (Laroche & Dolson 1999). Spectra as the FFT orders them, one for each channel; `power`: of all channels.
 */
export function turnPeaks(
  power: Float32Array,
  to: readonly Float32Array[],
  from: readonly Float32Array[],
  channels: number,
  was: Turns,
): Turns {
  const buffers = buffersOf(2 * power.length);
  const { peaks, advances, spectrum, other, wasRe, wasIm, re, im } = buffers;
  const count = peaksOn(buffers, power);
  if (count === 0) return was;
  advances.values.fill(0, 0, 2 * count);
  for (let c = 0; c < channels; c++) {
    spectrum.values.set(to[c]);
    other.values.set(from[c]);
    kernels.advancePeaks(peaks.address, count, spectrum.address, other.address, advances.address);
  }
  wasRe.values.set(was.re);
  wasIm.values.set(was.im);
  kernels.turnPeaks(
    ...([peaks.address, count, advances.address] as const),
    ...([wasRe.address, wasIm.address, re.address, im.address] as const),
  );
  return { re: re.values.slice(), im: im.values.slice() };
}

/** Puts the peaks of a power spectrum on a desk; returns how many there are. */
export function peaksOn(buffers: Buffers, power: Float32Array): number {
  buffers.power.values.set(power);
  return kernels.peaks(buffers.power.address, buffers.bins, buffers.peaks.address);
}

/** Goes through the peaks of a power spectrum and the bins around each, from valley to valley. */
export function forEachPeak(
  power: Float32Array,
  take: (peak: number, from: number, until: number) => void,
): void {
  const buffers = buffersOf(2 * power.length);
  const count = peaksOn(buffers, power);
  const { values } = buffers.peaks;
  for (let at = 0; at < 3 * count; at += 3) take(values[at], values[at + 1], values[at + 2]);
}
