/** How one stored sample value is written. */
export interface SampleEncoding {
  bits: 8 | 16 | 24 | 32 | 64;
  float: boolean;
  /** WAV stores 8-bit values unsigned, AIFF signed. */
  unsigned: boolean;
  littleEndian: boolean;
}

/**
 * Turns interleaved stored samples into one array per channel, full scale ±1: integers are divided by
 * 2^(bits−1), so that −1 is reached and +1 is not. A last incomplete frame is left out.
 */
export function deinterleave(bytes: Uint8Array, channels: number, encoding: SampleEncoding): Float32Array[] {
  const { bits, float, unsigned, littleEndian } = encoding;
  const width = bits / 8;
  const frames = Math.floor(bytes.length / (width * channels));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = valueReader(view, bits, float, unsigned, littleEndian);
  return Array.from({ length: channels }, (_, c) => {
    const out = new Float32Array(frames);
    for (let i = 0, at = c * width; i < frames; i++, at += width * channels) out[i] = read(at);
    return out;
  });
}

function valueReader(view: DataView, bits: number, float: boolean, unsigned: boolean, little: boolean) {
  if (float)
    return bits === 64
      ? (at: number) => view.getFloat64(at, little)
      : (at: number) => view.getFloat32(at, little);
  switch (bits) {
    case 8:
      return unsigned
        ? (at: number) => (view.getUint8(at) - 128) / 128
        : (at: number) => view.getInt8(at) / 128;
    case 16:
      return (at: number) => view.getInt16(at, little) / 32768;
    case 24:
      return little
        ? (at: number) =>
            (view.getUint8(at) | (view.getUint8(at + 1) << 8) | (view.getInt8(at + 2) << 16)) / 8388608
        : (at: number) =>
            (view.getUint8(at + 2) | (view.getUint8(at + 1) << 8) | (view.getInt8(at) << 16)) / 8388608;
    default:
      return (at: number) => view.getInt32(at, little) / 2147483648;
  }
}
