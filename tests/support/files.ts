import { encodeWave } from '@/core/formats/encodeWave';
import { drums, type DrumPattern } from './music';

/** Stereo drums as a WAV file; the seed makes files of one pattern differ. */
export function drumFile(pattern: DrumPattern, bits: 16 | 24 = 16): Uint8Array {
  const { left, right, sampleRate } = drums(pattern);
  return encodeWave([left, right], sampleRate, bits);
}
