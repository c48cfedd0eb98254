/** Whether an ID3v2 tag begins at a place. */
export const isId3 = (bytes: Uint8Array, at: number): boolean =>
  bytes[at] === 0x49 && bytes[at + 1] === 0x44 && bytes[at + 2] === 0x33 && at + 10 <= bytes.length;

/** Length of the ID3v2 tag at a place, with its header and footer (ID3v2.4, 3.1). */
export function id3Bytes(bytes: Uint8Array, at: number): number {
  const seven = (i: number) => bytes[at + i] & 127;
  const size = (seven(6) << 21) | (seven(7) << 14) | (seven(8) << 7) | seven(9);
  return 10 + size + (bytes[at + 5] & 0x10 ? 10 : 0);
}
