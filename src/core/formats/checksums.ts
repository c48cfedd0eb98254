/** Remainders of all bytes for a checksum whose highest bit comes first. */
function highestFirst(width: 8 | 16 | 32, polynomial: number): Uint32Array {
  const top = 2 ** (width - 1);
  const mask = 2 ** width - 1;
  return Uint32Array.from({ length: 256 }, (_, byte) => {
    let value = byte * 2 ** (width - 8);
    for (let bit = 0; bit < 8; bit++)
      value = value >= top ? (((value << 1) & mask) ^ polynomial) >>> 0 : ((value << 1) & mask) >>> 0;
    return value >>> 0;
  });
}

const FLAC_8 = highestFirst(8, 0x07);
const FLAC_16 = highestFirst(16, 0x8005);
const OGG_32 = highestFirst(32, 0x04c11db7);

/** CRC-8 of a FLAC frame's header (RFC 9639, 9.1.8). */
export function flacCrc8(bytes: Uint8Array, from: number, to: number): number {
  let crc = 0;
  for (let i = from; i < to; i++) crc = FLAC_8[crc ^ bytes[i]];
  return crc;
}

/** CRC-16 of a FLAC frame (RFC 9639, 9.3), gone on with from `crc`. */
export function flacCrc16(bytes: Uint8Array, from: number, to: number, crc = 0): number {
  for (let i = from; i < to; i++) crc = ((crc << 8) & 0xffff) ^ FLAC_16[(crc >> 8) ^ bytes[i]];
  return crc;
}

/** CRC-32 of an Ogg page (RFC 3533, 6), whose own four bytes at 22 count as noughts. */
export function oggCrc32(page: Uint8Array): number {
  let crc = 0;
  for (let i = 0; i < page.length; i++) {
    const byte = i >= 22 && i < 26 ? 0 : page[i];
    crc = ((crc << 8) ^ OGG_32[(crc >>> 24) ^ byte]) >>> 0;
  }
  return crc;
}

const LAME_16 = Uint16Array.from({ length: 256 }, (_, byte) => {
  let value = byte;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >> 1) ^ 0xa001 : value >> 1;
  return value;
});

/** CRC-16 as LAME keeps it of all sound in a file, gone on with from `crc`. */
export function lameCrc16(bytes: Uint8Array, crc: number): number {
  for (let i = 0; i < bytes.length; i++) crc = (crc >> 8) ^ LAME_16[(crc ^ bytes[i]) & 255];
  return crc;
}
