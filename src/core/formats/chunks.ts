import type { ByteReader } from './byteReader';

/** A part of a file that is built of chunks (EA IFF 85, and RIFF after it): four letters, a length, a body. */
export interface Chunk {
  id: string;
  /** Where its header stands, in what is read. */
  offset: number;
  /** Length of its body as the header says. */
  size: number;
  /** The first bytes of its body, at most so many: what is longer than it may be is not read whole. */
  head(most: number): Promise<Uint8Array>;
}

/** A file of more chunks than this is none of these. */
const MOST_CHUNKS = 4000;

/**
 * Walks along the chunks from where the reader stands, in `endian` byte order, to the end of what there is. A body is
 * read by whoever wants it, from the reader itself or by `head`; what is left of it, and the byte that makes its
 * length even, is passed over.
 */
export async function* chunksOf(reader: ByteReader, endian: 'little' | 'big'): AsyncGenerator<Chunk> {
  for (let count = 0; count < MOST_CHUNKS; count++) {
    const offset = reader.position;
    const header = await reader.read(8);
    if (header.length < 8) return;
    const size = viewOf(header).getUint32(4, endian === 'little');
    yield {
      id: fourLetters(header, 0),
      offset,
      size,
      head: (most) => reader.read(Math.min(most, size)),
    };
    await reader.skip(offset + 8 + size + (size % 2) - reader.position);
  }
}

export function fourLetters(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}

export function viewOf(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}
