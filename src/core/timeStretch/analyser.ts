import { realFft } from '../signal/fft';
import { kernels, type Room } from '../signal/kernels';
import { arrangeLoop } from '../signal/layRound';
import { buffersOf, type Buffers } from './buffers';

/** How fast a frame ends where nothing further may be heard: frames of audio, twelve at 44.1 kHz. */
export const edgeAt = (rate: number): number => Math.max(1, Math.round(0.00027 * rate));

/** How much of each sample of a frame is heard, 0 … 1; null: all of it. */
export type Mask = Float32Array | null;

/** Hears frames of a source, all channels alike, in nothing but what lies between two places. */
export interface Analyser {
  readonly channels: number;
  /** It hears every so many frames: a frame of n samples is n × stride long. Places are those of all frames. */
  readonly stride: number;
  /** How much of each sample of a frame about a centre is heard, 0 … 1, in `room`; null where all of it is. */
  maskAt(centre: number, room: Float32Array): Mask;
  /** The spectrum of a frame of one channel about a centre, under a Hann window and a mask, as the FFT orders it. */
  hear(channel: number, centre: number, mask: Mask, into: Float32Array): void;
}

/** So many samples from a place on, every one or every so many; silence beyond the ends, or round and round. */
export function samplesFrom(
  channel: Float32Array,
  from: number,
  count: number,
  isLoop: boolean,
  into: Float32Array = new Float32Array(count),
  stride = 1,
): Float32Array {
  const size = channel.length;
  if (stride === 1 && from >= 0 && from + count <= size) {
    into.set(channel.subarray(from, from + count));
    return into;
  }
  if (from >= 0 && from + (count - 1) * stride < size) {
    for (let i = 0, at = from; i < count; i++, at += stride) into[i] = channel[at];
    return into;
  }
  if (isLoop && stride === 1) arrangeLoop(channel, from, into);
  else
    for (let i = 0; i < count; i++) {
      const at = from + i * stride;
      into[i] = isLoop ? channel[((at % size) + size) % size] : at >= 0 && at < size ? channel[at] : 0;
    }
  return into;
}

export function analyserOf(
  source: readonly Float32Array[],
  isLoop: boolean,
  [low, high]: readonly [number, number],
  { rate, stride }: { rate: number; stride: number },
): Analyser {
  const edge = edgeAt(rate);
  return {
    channels: source.length,
    stride,
    maskAt(centre, room) {
      const { length } = room;
      const start = centre - (length / 2) * stride;
      // Most frames lie far from both places.
      if (start - low >= edge && high - start - length * stride >= edge) return null;
      const ramp = (from: number, to: number) => {
        for (let i = Math.max(0, from); i < Math.min(length, to); i++) {
          const at = start + i * stride;
          room[i] = Math.max(0, Math.min(1, Math.min(at - low, high - at) / edge));
        }
      };
      // All of what lies between the edges, and nothing beyond them.
      const from = Math.ceil((low + edge - start) / stride);
      const to = Math.floor((high - edge - start) / stride) + 1;
      room.fill(0);
      if (from < to) {
        room.fill(1, Math.max(0, from), Math.max(0, to));
        ramp(from - edge - 1, from);
        ramp(to, to + edge + 1);
      } else ramp(to - edge - 1, from + edge + 1);
      return room;
    },
    hear(channel, centre, mask, into) {
      const size = into.length;
      const buffers = buffersOf(size);
      const { samples, window } = buffers;
      const fft = realFft(size);
      samplesFrom(source[channel], centre - (size / 2) * stride, size, isLoop, samples.values, stride);
      const heard = maskOn(buffers, mask);
      kernels.framed(samples.address, window.address, heard.address, 1, samples.address, size);
      fft.input.set(samples.values);
      into.set(fft.forward());
    },
  };
}

/** A mask as the kernels take it. */
export function maskOn(buffers: Buffers, mask: Mask): Room {
  if (!mask) return buffers.ones;
  buffers.mask.values.set(mask);
  return buffers.mask;
}

/** Adds the power of a spectrum to each bin below half the rate. */
export function addPower(spectrum: Float32Array, power: Float32Array) {
  const buffers = buffersOf(spectrum.length);
  buffers.spectrum.values.set(spectrum);
  // Half the rate stands beside what stands still.
  buffers.spectrum.values[1] = 0;
  buffers.power.values.set(power);
  kernels.addPower(buffers.spectrum.address, buffers.power.address, buffers.bins);
  power.set(buffers.power.values);
}
