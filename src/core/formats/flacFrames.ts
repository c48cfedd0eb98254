import { UndecodableError } from './audioFormat';
import { flacCrc16, flacCrc8 } from './checksums';
import type { ByteWindow } from './window';

/** What a FLAC stream says of itself (RFC 9639, 8.2: STREAMINFO). */
export interface FlacInfo {
  sampleRate: number;
  channels: number;
  bits: number;
  /** Frames of sound (samples of each channel), null where it is not said. */
  frames: number | null;
  /** MD5 of the sound as numbers, in hexadecimal; null where it is not said. */
  md5: string | null;
}

/** STREAMINFO's length. */
export const INFO_BYTES = 34;

/** Reads the body of STREAMINFO. Throws UndecodableError with a sentence for the user. */
export function flacInfo(body: Uint8Array): FlacInfo {
  if (body.length < INFO_BYTES) throw new UndecodableError('This FLAC file ends inside its description.');
  const sampleRate = (body[10] << 12) | (body[11] << 4) | (body[12] >> 4);
  const channels = ((body[12] >> 1) & 7) + 1;
  const bits = (((body[12] & 1) << 4) | (body[13] >> 4)) + 1;
  const frames =
    (body[13] & 15) * 2 ** 32 +
    ((body[14] << 24) | (body[15] << 16) | (body[16] << 8) | body[17]) +
    (body[14] & 128 ? 2 ** 32 : 0);
  if (sampleRate < 1000 || bits < 4)
    throw new UndecodableError(
      `This FLAC file describes itself as ${bits} bits at ${sampleRate} Hz; its beginning is damaged.`,
    );
  const md5 = [...body.subarray(18, 34)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return { sampleRate, channels, bits, frames: frames || null, md5: /^0+$/.test(md5) ? null : md5 };
}

interface FrameHeader {
  /** Bytes, with its checksum. */
  length: number;
  /** Frames of sound. */
  blockSize: number;
  /** The number of its first sample (variable blocks), or of the frame. */
  number: number;
  isVariable: boolean;
}

const BITS = [0, 8, 12, -1, 16, 20, 24, 32];
const RATES = [0, 88200, 176400, 192000, 8000, 16000, 22050, 24000, 32000, 44100, 48000, 96000];
/** A header is no longer than this. */
const LONGEST_HEADER = 16;

/** The header of a frame at a place (RFC 9639, 9.1), or null when none that fits the stream stands there. */
export function frameHeaderAt(bytes: Uint8Array, at: number, info: FlacInfo): FrameHeader | null {
  if (bytes[at] !== 0xff || (bytes[at + 1] & 0xfe) !== 0xf8 || at + 6 > bytes.length) return null;
  const blockCode = bytes[at + 2] >> 4;
  const rateCode = bytes[at + 2] & 15;
  const channelCode = bytes[at + 3] >> 4;
  const bitsCode = (bytes[at + 3] >> 1) & 7;
  if (blockCode === 0 || rateCode === 15 || channelCode > 10 || bytes[at + 3] & 1) return null;
  if ((channelCode < 8 ? channelCode + 1 : 2) !== info.channels) return null;
  if (bitsCode !== 0 && BITS[bitsCode] !== info.bits) return null;
  if (rateCode > 0 && rateCode < 12 && RATES[rateCode] !== info.sampleRate) return null;
  // The number is written as UTF-8 would, up to 36 bits.
  const lead = bytes[at + 4];
  const more = lead < 0x80 ? 0 : lead < 0xc0 ? -1 : Math.clz32(~(lead << 24)) - 1;
  if (more < 0 || more > 6) return null;
  let number = more === 0 ? lead : lead & (0x3f >> more);
  let next = at + 5;
  for (let i = 0; i < more; i++, next++) {
    if ((bytes[next] & 0xc0) !== 0x80) return null;
    number = number * 64 + (bytes[next] & 0x3f);
  }
  let blockSize = blockCode === 1 ? 192 : blockCode < 6 ? 576 << (blockCode - 2) : 1 << blockCode;
  if (blockCode === 6) blockSize = bytes[next++] + 1;
  else if (blockCode === 7) {
    blockSize = ((bytes[next] << 8) | bytes[next + 1]) + 1;
    next += 2;
  }
  next += rateCode === 12 ? 1 : rateCode > 12 ? 2 : 0;
  if (next >= bytes.length || flacCrc8(bytes, at, next) !== bytes[next]) return null;
  return { length: next + 1 - at, blockSize, number, isVariable: (bytes[at + 1] & 1) === 1 };
}

/** A frame whose checksum is right. */
export interface FlacFrame {
  bytes: Uint8Array;
  /** Where its sound begins in the stream, in frames of sound. */
  at: number;
  blockSize: number;
}

/** Whether a whole frame with a right checksum fills bytes from … to. */
export const isWholeFrame = (bytes: Uint8Array, from: number, to: number): boolean =>
  to - from > 4 && flacCrc16(bytes, from, to) === 0;

/** Tells where a frame's sound begins, from its number: a fixed stream counts frames of the size of its first. */
export function framePlaces(): (header: FrameHeader) => number {
  let fixed: number | null = null;
  return ({ number, blockSize, isVariable }) => {
    if (isVariable) return number;
    // The last one is shorter, the first one only when it is the last as well.
    fixed ??= blockSize;
    return number * fixed;
  };
}

/**
 * Where the sound of a stream ends, frames of sound, as its last bytes tell: by the number of a header behind a whole frame. Null where
 * they tell nothing. For streams that do not say it at their beginning, as what was piped into a file.
 */
export function flacEnd(tail: Uint8Array, info: FlacInfo): number | null {
  const headers: { at: number; header: FrameHeader }[] = [];
  for (let at = 0; at + 6 < tail.length; at++) {
    const header = frameHeaderAt(tail, at, info);
    if (header) headers.push({ at, header });
  }
  for (let last = headers.length - 1; last > 0; last--)
    for (let i = last - 1; i >= 0; i--) {
      const [before, here] = [headers[i], headers[last]];
      if (!isWholeFrame(tail, before.at, here.at)) continue;
      const { isVariable, number, blockSize } = here.header;
      return (isVariable ? number : number * before.header.blockSize) + blockSize;
    }
  return null;
}

/** Longer than any frame that an encoder writes. */
const LONGEST_FRAME = 8 * 1024 * 1024;
const ID3V1_BYTES = 128;

/**
 * The whole frames of a stream, from behind its STREAMINFO: each between two headers, known by its checksum. A damaged
 * frame is left out, and with it nothing else.
 */
export async function* flacFrames(window: ByteWindow, info: FlacInfo): AsyncGenerator<FlacFrame> {
  const placeOf = framePlaces();
  let here = await nextHeader(window, 0, info);
  while (here) {
    window.drop(here.at);
    const { header } = here;
    // A header inside of the frame's own bytes would be chance; one whose number does not go on is none.
    let next = await nextHeader(window, header.length, info);
    while (next && !(next.header.number > header.number)) {
      if (next.at > LONGEST_FRAME) break;
      next = await nextHeader(window, next.at + 1, info);
    }
    const { bytes } = window;
    const until = next?.at ?? endOf(bytes);
    const end = isWholeFrame(bytes, 0, until) ? until : endBeforeDamage(bytes, header.length, until);
    if (end > 0) yield { bytes: bytes.slice(0, end), at: placeOf(header), blockSize: header.blockSize };
    here = next;
  }
}

/** A sync word that differs by no more bits than this may be one that was damaged. */
const DAMAGED_BITS = 3;

/**
 * Where a frame ends whose next one has a damaged header, so that it seems to go on through that one: where its
 * checksum is right and nearly a sync word stands. 0 where there is no such place.
 */
function endBeforeDamage(bytes: Uint8Array, from: number, until: number): number {
  let crc = flacCrc16(bytes, 0, from);
  for (let at = from; at < until - 2; at++) {
    crc = flacCrc16(bytes, at, at + 1, crc);
    if (crc !== 0) continue;
    // Its last bit tells fixed from variable blocks.
    const differs = (((bytes[at + 1] << 8) | bytes[at + 2]) & 0xfffe) ^ 0xfff8;
    if (bitsOf(differs) <= DAMAGED_BITS) return at + 1;
  }
  return 0;
}

function bitsOf(word: number): number {
  let count = 0;
  for (let rest = word; rest > 0; rest >>= 1) count += rest & 1;
  return count;
}

/** Where the last frame ends: before a tag that others hung behind it. */
function endOf(bytes: Uint8Array): number {
  const tag = bytes.length - ID3V1_BYTES;
  return tag > 0 && bytes[tag] === 0x54 && bytes[tag + 1] === 0x41 && bytes[tag + 2] === 0x47
    ? tag
    : bytes.length;
}

async function nextHeader(window: ByteWindow, from: number, info: FlacInfo) {
  for (let at = from; ; at++) {
    // A header near the end of the file may be shorter than the longest.
    if (!(await window.has(at + LONGEST_HEADER)) && !(await window.has(at + 6))) return null;
    const { bytes } = window;
    const sync = bytes.subarray(0, Math.max(at, bytes.length - LONGEST_HEADER)).indexOf(0xff, at);
    if (sync >= 0) at = sync;
    else if (bytes.length - LONGEST_HEADER > at) {
      at = bytes.length - LONGEST_HEADER - 1;
      continue;
    }
    const header = frameHeaderAt(bytes, at, info);
    if (header) return { at, header };
  }
}
