import { hannWindow, realFft } from '../signal/fft';

/** How fast a frame ends where nothing further may be heard, frames of audio. */
const EDGE = 12;

/** Hears frames of a source, all channels alike, in nothing but what lies between two places. */
export interface Ear {
  readonly channels: number;
  /** How much of each sample of a frame about a centre is heard, 0 … 1, into `mask`. */
  maskAt(centre: number, mask: Float32Array): void;
  /** The spectrum of a frame of one channel about a centre, under a Hann window and the mask, as the FFT orders it. */
  hear(channel: number, centre: number, mask: Float32Array, into: Float32Array): void;
}

const windows = new Map<number, Float32Array>();

/** The Hann window of so many points. */
export function windowOf(size: number): Float32Array {
  let made = windows.get(size);
  if (!made) windows.set(size, (made = hannWindow(size)));
  return made;
}

/** So many samples from a place on; silence beyond the ends, or round and round. */
export function samplesFrom(
  channel: Float32Array,
  from: number,
  count: number,
  isLoop: boolean,
  into: Float32Array = new Float32Array(count),
): Float32Array {
  const size = channel.length;
  if (from >= 0 && from + count <= size) {
    into.set(channel.subarray(from, from + count));
    return into;
  }
  for (let i = 0; i < count; i++) {
    const at = from + i;
    into[i] = isLoop ? channel[((at % size) + size) % size] : at >= 0 && at < size ? channel[at] : 0;
  }
  return into;
}

export function earOf(
  source: readonly Float32Array[],
  isLoop: boolean,
  [low, high]: readonly [number, number],
): Ear {
  return {
    channels: source.length,
    maskAt(centre, mask) {
      const { length } = mask;
      const start = centre - length / 2;
      // Most frames lie far from both places.
      if (start - low >= EDGE && high - start - length >= EDGE) {
        mask.fill(1);
        return;
      }
      for (let i = 0; i < length; i++) {
        const at = start + i;
        mask[i] = Math.max(0, Math.min(1, Math.min(at - low, high - at) / EDGE));
      }
    },
    hear(channel, centre, mask, into) {
      const size = mask.length;
      const window = windowOf(size);
      const fft = realFft(size);
      const { input } = fft;
      samplesFrom(source[channel], centre - size / 2, size, isLoop, into);
      for (let i = 0; i < size; i++) input[i] = into[i] * window[i] * mask[i];
      into.set(fft.forward());
    },
  };
}

/** Adds the power of a spectrum to each bin below half the rate. */
export function addPower(spectrum: Float32Array, power: Float32Array) {
  power[0] += spectrum[0] * spectrum[0];
  for (let k = 1; k < power.length; k++)
    power[k] += spectrum[2 * k] * spectrum[2 * k] + spectrum[2 * k + 1] * spectrum[2 * k + 1];
}
