/** Bytes as a stream of blocks of an awkward size. */
export async function* inBlocks(bytes: Uint8Array, size = 7919): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}

/** The same as a file that can be opened as often as is wanted. */
export const opening = (bytes: Uint8Array, size?: number) => () => inBlocks(bytes, size);

export async function joined(blocks: AsyncIterable<Uint8Array>): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  for await (const block of blocks) parts.push(Uint8Array.from(block));
  return Uint8Array.from(Buffer.concat(parts));
}

/** One after the other. */
export const together = (...parts: Uint8Array[]): Uint8Array => Uint8Array.from(Buffer.concat(parts));

/** Whether two arrays hold the same bytes; far quicker than a matcher on large ones. */
export function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return Buffer.compare(a, b) === 0;
}
