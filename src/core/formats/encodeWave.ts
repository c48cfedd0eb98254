import { bytesPerSample, writeAscii, writeSamples, type StoredBits } from './encodePcm';

/** A RIFF/WAVE file of PCM (16, 24 bits) or 32-bit float. `channels` are arrays of one length, full scale ±1. */
export function encodeWave(
  channels: readonly Float32Array[],
  sampleRate: number,
  bits: StoredBits = 16,
): Uint8Array {
  const width = bytesPerSample(bits);
  const frameBytes = width * channels.length;
  const dataBytes = channels[0].length * frameBytes;
  const padded = dataBytes + (dataBytes % 2);
  const file = new Uint8Array(44 + padded);
  const view = new DataView(file.buffer);
  writeAscii(view, 0, 'RIFF');
  view.setUint32(4, 36 + padded, true);
  writeAscii(view, 8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, bits === '32f' ? 3 : 1, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * frameBytes, true);
  view.setUint16(32, frameBytes, true);
  view.setUint16(34, width * 8, true);
  writeAscii(view, 36, 'data');
  view.setUint32(40, dataBytes, true);
  writeSamples(view, 44, channels, bits, true);
  return file;
}
