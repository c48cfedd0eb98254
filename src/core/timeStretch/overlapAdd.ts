import { realFft } from '../signal/fft';
import { kernels } from '../signal/kernels';
import { buffersOf, type Buffers } from './buffers';
import { maskOn, type Analyser, type Mask } from './analyser';
import { reachOf, repitch } from './repitch';
import type { Turns } from './turns';

/** Frames that are laid over each other under Hann windows, and weighed by how much of each was heard. */
export interface OverlapAdd {
  /**
   * Lays a frame about a place: the spectrum of each channel, as it was heard under a Hann window and `mask`, turned and
   * multiplied bin by bin (`gains`; null: not).
   */
  arrange(
    at: number,
    spectra: readonly Float32Array[],
    mask: Mask,
    turns: Turns,
    gains: Float32Array | null,
  ): void;
  /** What was laid, each sample by its weight. */
  finish(): Float32Array[];
}

/**
 * Where less than this was heard (all of it: 1.5) no more is made up for: what was turned about an edge does not fade with what
 * was heard there, and would crack.
 */
const LEAST_WEIGHT = 0.3;

/** `goesRound`: what hangs over one end is laid at the other. */
export function overlapAdd(room: number, channels: number, loops: boolean): OverlapAdd {
  const sums = Array.from({ length: channels }, () => new Float32Array(room));
  const weights = new Float32Array(room);
  return {
    arrange(at, spectra, mask, turns, gains) {
      const size = spectra[0].length;
      const fft = realFft(size);
      const buffers = buffersOf(size);
      const { re, im, spectrum, other, samples, window, ones } = buffers;
      const start = at - size / 2;
      const [first, end] = [Math.max(0, -start), Math.min(size, room - start)];
      // Where it turns, and where it does not.
      const parts = loops ? turned(start, size, room) : [{ from: first, to: end, by: start }];
      re.values.set(turns.re);
      im.values.set(turns.im);
      const heard = maskOn(buffers, mask);
      spectra.forEach((bins, c) => {
        spectrum.values.set(bins);
        kernels.turned(spectrum.address, re.address, im.address, other.address, buffers.bins);
        // What stands still can be turned over at most; half the rate stands beside it.
        other.values[0] = bins[0] * Math.sign(turns.re[0] || 1);
        other.values[1] = bins[1];
        if (gains) multiply(other.values, gains);
        fft.spectrum.set(other.values);
        samples.values.set(fft.inverseTimesSize());
        kernels.framed(samples.address, window.address, heard.address, 1 / size, samples.address, size);
        arrangeParts(buffers, parts, sums[c]);
      });
      kernels.framed(window.address, window.address, heard.address, 1, samples.address, size);
      if (mask) kernels.framed(samples.address, heard.address, ones.address, 1, samples.address, size);
      arrangeParts(buffers, parts, weights);
    },
    finish() {
      for (const sum of sums) for (let n = 0; n < room; n++) sum[n] /= Math.max(LEAST_WEIGHT, weights[n]);
      return sums;
    },
  };
}

/** The same for an ear that hears every so many frames: places and `room` are those of all frames, and so is what is exported. */
export function strided(room: number, { channels, stride }: Analyser): OverlapAdd {
  if (stride === 1) return overlapAdd(room, channels, false);
  const step = 1 / stride;
  // As much beyond both ends as is read for what lies between.
  const reach = reachOf(step);
  const frames = overlapAdd(Math.ceil(room * step) + 2 * reach, channels, false);
  return {
    arrange: (at, spectra, mask, turns, gains) =>
      frames.arrange(at * step + reach, spectra, mask, turns, gains),
    finish() {
      const sparse = frames.finish();
      const dense = sparse.map(() => new Float32Array(room));
      repitch(sparse, dense, 0, room, { at: (frame) => reach + frame * step, step, isLoop: false });
      return dense;
    },
  };
}

/** Adds what lies on the desk to `sum`, part by part. */
function arrangeParts({ samples, sum: buffers }: Buffers, parts: readonly Part[], sum: Float32Array) {
  for (const { from, to, by } of parts) {
    if (to <= from) continue;
    buffers.values.set(sum.subarray(by + from, by + to));
    kernels.add(samples.address + 4 * from, buffers.address, to - from);
    sum.set(buffers.values.subarray(0, to - from), by + from);
  }
}

/** Multiplies each bin but that of half the rate. */
function multiply(spectrum: Float32Array, gains: Float32Array) {
  spectrum[0] *= gains[0];
  for (let k = 1; k < gains.length; k++) {
    spectrum[2 * k] *= gains[k];
    spectrum[2 * k + 1] *= gains[k];
  }
}

/** A piece of a frame, and by how much it is moved. */
interface Part {
  from: number;
  to: number;
  by: number;
}

/** The pieces of a frame between the turns of what loops, and by how much each is moved. */
function turned(start: number, size: number, room: number): Part[] {
  const parts: Part[] = [];
  for (let from = 0; from < size;) {
    const by = start - Math.floor((start + from) / room) * room;
    const to = Math.min(size, room - by);
    parts.push({ from, to, by });
    from = to;
  }
  return parts;
}
