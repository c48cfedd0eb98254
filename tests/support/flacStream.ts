import { flacCrc16, flacCrc8 } from '@/core/formats/checksums';

/** A frame of FLAC of one constant value, 44.1 kHz, 16 bits, mono, as RFC 9639 says; its number as UTF-8 would write it. */
export function flacFrame(
  number: number,
  { blockSize = 4096, value = 7, isVariable = false } = {},
): Uint8Array {
  const coded = number < 0x80 ? [number] : [...new TextEncoder().encode(String.fromCodePoint(number))];
  const head = [
    0xff,
    isVariable ? 0xf9 : 0xf8,
    0x79,
    0x08,
    ...coded,
    (blockSize - 1) >> 8,
    (blockSize - 1) & 255,
  ];
  head.push(flacCrc8(Uint8Array.from(head), 0, head.length));
  const bytes = Uint8Array.from([...head, 0, value >> 8, value & 255, 0, 0]);
  const crc = flacCrc16(bytes, 0, bytes.length - 2);
  bytes.set([crc >> 8, crc & 255], bytes.length - 2);
  return bytes;
}

/** The beginning of such a stream that does not say how long it is. */
export function flacHead(): Uint8Array {
  const head = new Uint8Array(42);
  head.set([0x66, 0x4c, 0x61, 0x43, 0x80, 0, 0, 34, 0x10, 0, 0x10, 0]);
  // 44,100 Hz, one channel, 16 bits.
  head.set([0x0a, 0xc4, 0x40, 0xf0], 18);
  return head;
}
