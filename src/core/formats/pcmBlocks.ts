import type { ByteReader } from './byteReader';

const FRAMES_PER_BLOCK = 16384;

/**
 * Reads up to `length` bytes (null: to the end of the stream) of interleaved frames and hands them on in
 * blocks of whole frames. Returns the number of whole frames that were there.
 */
export async function readPcmBlocks(
  reader: ByteReader,
  length: number | null,
  frameBytes: number,
  onBlock: (bytes: Uint8Array) => void,
): Promise<number> {
  let left = length === null ? Infinity : length;
  let frames = 0;
  while (left >= frameBytes) {
    const want = Math.min(FRAMES_PER_BLOCK * frameBytes, Math.floor(left / frameBytes) * frameBytes);
    const bytes = await reader.read(want);
    const whole = Math.floor(bytes.length / frameBytes);
    if (whole > 0) onBlock(bytes.subarray(0, whole * frameBytes));
    frames += whole;
    left -= bytes.length;
    if (bytes.length < want) break;
  }
  return frames;
}
