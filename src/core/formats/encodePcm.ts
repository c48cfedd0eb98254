/** How `encodeWave` and `encodeAiff` store samples. */
export type StoredBits = 16 | 24 | '32f';

/** Interleaves and quantises (round to nearest, clipped at full scale) into `view` from byte `at` on. */
export function writeSamples(
  view: DataView,
  at: number,
  channels: readonly Float32Array[],
  bits: StoredBits,
  little: boolean,
) {
  const frames = channels[0].length;
  for (let i = 0; i < frames; i++) {
    for (const channel of channels) {
      const value = channel[i];
      if (bits === 16) {
        view.setInt16(at, Math.max(-32768, Math.min(32767, Math.round(value * 32768))), little);
        at += 2;
      } else if (bits === 24) {
        const stored = Math.max(-8388608, Math.min(8388607, Math.round(value * 8388608)));
        for (let b = 0; b < 3; b++) view.setUint8(at + (little ? b : 2 - b), (stored >> (8 * b)) & 255);
        at += 3;
      } else {
        view.setFloat32(at, value, little);
        at += 4;
      }
    }
  }
}

export function bytesPerSample(bits: StoredBits): number {
  return bits === 16 ? 2 : bits === 24 ? 3 : 4;
}

export function writeAscii(view: DataView, at: number, text: string) {
  for (let i = 0; i < text.length; i++) view.setUint8(at + i, text.charCodeAt(i));
}
