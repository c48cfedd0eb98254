import type { MpegFrame } from './mpegFrames';

/**
 * How the frames of layer III share their bytes (ISO 11172-3, 2.4.1.7 and 2.4.2.7): the data of a frame begins so many bytes before
 * its own area, in what the frames before it left.
 */
export interface Reservoir {
  /** How many bytes before its own area its data begins. */
  begins: number;
  /** How many bytes it leaves at most to the next one: exactly so many, unless its encoder filled it up. */
  leaves: number;
}

/** What the side information of a frame says of its bytes. */
export function reservoirOf({ header, bytes }: MpegFrame): Reservoir {
  const { channels, samples, hasChecksum, sideBytes, length } = header;
  const isFull = samples === 1152;
  const head = 4 + (hasChecksum ? 2 : 0);
  const bits = (at: number, count: number) => {
    let value = 0;
    for (let i = at; i < at + count; i++)
      value = (value << 1) | ((bytes[head + (i >> 3)] >> (7 - (i & 7))) & 1);
    return value;
  };
  const begins = bits(0, isFull ? 9 : 8);
  // Private bits, and which scale factors are shared.
  let at = isFull ? (channels === 1 ? 9 + 5 + 4 : 9 + 3 + 8) : channels === 1 ? 8 + 1 : 8 + 2;
  let used = 0;
  for (let i = 0; i < channels * (isFull ? 2 : 1); i++) {
    used += bits(at, 12);
    at += isFull ? 59 : 63;
  }
  return { begins, leaves: begins + length - head - sideBytes - Math.ceil(used / 8) };
}

/** The most that can be left, bytes. */
export const mostLeft = ({ header }: MpegFrame): number => (header.samples === 1152 ? 511 : 255);
