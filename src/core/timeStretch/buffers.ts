import { hannWindow } from '../signal/fft';
import { roomForCounts, roomForDoubles, roomForFloats, type Room } from '../signal/kernels';

/** Room in the kernels' memory for the work on frames of one length: what lies here is worked on at once, and then taken away. */
export interface Buffers {
  readonly bins: number;
  /** The Hann window of that length, and ones. */
  readonly window: Room;
  readonly ones: Room;
  readonly samples: Room;
  readonly mask: Room;
  readonly sum: Room;
  readonly spectrum: Room;
  readonly other: Room;
  /** A value for each bin: complex numbers in two parts, and their sizes. */
  readonly re: Room;
  readonly im: Room;
  readonly wasRe: Room;
  readonly wasIm: Room;
  readonly sizes: Room;
  /** Two values below nought stand on either side of it. */
  readonly power: Room;
  /** (peak, from, until) of each peak. */
  readonly peaks: Room<Uint32Array>;
  /** How far each peak goes on: a complex number. */
  readonly advances: Room<Float64Array>;
  /** Of all bins, and of what goes along with its peak. */
  readonly sums: Room<Float64Array>;
}

const allBuffers = new Map<number, Buffers>();

/** The desk for frames of `size` samples, a power of two: one for each length, kept. */
export function buffersOf(size: number): Buffers {
  const known = allBuffers.get(size);
  if (known) return known;
  const bins = size / 2;
  const filled = (values: Float32Array) => {
    const room = roomForFloats(values.length);
    room.values.set(values);
    return room;
  };
  const whole = () => roomForFloats(size);
  const half = () => roomForFloats(bins);
  const padded = filled(new Float32Array(bins + 4).fill(-1));
  const made: Buffers = {
    bins,
    window: filled(hannWindow(size)),
    ones: filled(new Float32Array(size).fill(1)),
    ...{ samples: whole(), mask: whole(), sum: whole(), spectrum: whole(), other: whole() },
    ...{ re: half(), im: half(), wasRe: half(), wasIm: half(), sizes: half() },
    power: { address: padded.address + 8, values: padded.values.subarray(2, bins + 2) },
    peaks: roomForCounts(3 * bins),
    advances: roomForDoubles(2 * bins),
    sums: roomForDoubles(2),
  };
  allBuffers.set(size, made);
  return made;
}
