import { bytesPerSample, writeAscii, writeSamples } from './encodePcm';

/** An AIFF file of 16- or 24-bit PCM. `channels` are arrays of one length, full scale ±1. */
export function encodeAiff(
  channels: readonly Float32Array[],
  sampleRate: number,
  bits: 16 | 24 = 16,
): Uint8Array {
  const width = bytesPerSample(bits);
  const dataBytes = channels[0].length * width * channels.length;
  const padded = dataBytes + (dataBytes % 2);
  const file = new Uint8Array(12 + 26 + 16 + padded);
  const view = new DataView(file.buffer);
  writeAscii(view, 0, 'FORM');
  view.setUint32(4, file.length - 8, false);
  writeAscii(view, 8, 'AIFFCOMM');
  view.setUint32(16, 18, false);
  view.setUint16(20, channels.length, false);
  view.setUint32(22, channels[0].length, false);
  view.setUint16(26, width * 8, false);
  writeExtended(view, 28, sampleRate);
  writeAscii(view, 38, 'SSND');
  view.setUint32(42, 8 + dataBytes, false);
  writeSamples(view, 54, channels, bits, false);
  return file;
}

/** A positive integer as 80-bit IEEE 754 extended, big-endian. */
function writeExtended(view: DataView, at: number, value: number) {
  const exponent = Math.floor(Math.log2(value));
  view.setUint16(at, 16383 + exponent, false);
  view.setUint32(at + 2, value * 2 ** (31 - exponent), false);
  view.setUint32(at + 6, 0, false);
}
