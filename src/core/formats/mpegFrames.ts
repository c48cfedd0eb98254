import { lameCrc16 } from './checksums';
import { isTag, nextTag, tagHere } from './mpegTags';
import type { ByteWindow } from './window';

/** What the header of an MPEG layer III frame says (ISO 11172-3, 2.4.1.3, and 13818-3 for half the rates and less). */
export interface MpegHeader {
  /** Bytes of the frame. */
  length: number;
  sampleRate: number;
  channels: 1 | 2;
  /** Frames of sound in it. */
  samples: number;
  /** Bytes of its side information, behind the header and its checksum. */
  sideBytes: number;
  hasChecksum: boolean;
}

const BIT_RATES = {
  v1: [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  v2: [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};
const RATES = [44100, 48000, 32000];

/** The header at a place, or null if none stands there. */
export function mpegHeaderAt(bytes: Uint8Array, at: number): MpegHeader | null {
  if (bytes[at] !== 0xff || (bytes[at + 1] & 0xe6) !== 0xe2 || at + 4 > bytes.length) return null;
  const version = (bytes[at + 1] >> 3) & 3;
  const bitRateIndex = bytes[at + 2] >> 4;
  const rateIndex = (bytes[at + 2] >> 2) & 3;
  if (version === 1 || bitRateIndex === 0 || bitRateIndex === 15 || rateIndex === 3) return null;
  const full = version === 3;
  const sampleRate = RATES[rateIndex] / (full ? 1 : version === 2 ? 2 : 4);
  const channels = bytes[at + 3] >> 6 === 3 ? 1 : 2;
  return {
    length: lengthOf(full, bitRateIndex, sampleRate) + ((bytes[at + 2] >> 1) & 1),
    sampleRate,
    channels,
    samples: full ? 1152 : 576,
    sideBytes: full ? (channels === 1 ? 17 : 32) : channels === 1 ? 9 : 17,
    hasChecksum: (bytes[at + 1] & 1) === 0,
  };
}

const lengthOf = (full: boolean, bitRateIndex: number, sampleRate: number) =>
  Math.floor(((full ? 144000 : 72000) * (full ? BIT_RATES.v1 : BIT_RATES.v2)[bitRateIndex]) / sampleRate);

/** All lengths, bytes, that frames of a stream can have: of every bit rate, padded by a byte or not. */
export function frameLengths({ sampleRate, samples }: MpegHeader): ReadonlySet<number> {
  const full = samples === 1152;
  const lengths = new Set<number>();
  for (let index = 1; index < 15; index++)
    for (const padding of [0, 1]) lengths.add(lengthOf(full, index, sampleRate) + padding);
  return lengths;
}

/** What an encoder says of the whole in a first frame that holds no sound ("Xing" or "Info", with LAME's addition). */
export interface MpegClaims {
  /** Frames of sound as they stand in the file, without encoder's delay and padding. */
  frames: number | null;
  /** CRC-16 of all bytes behind that frame, as LAME counts them; encoders that write it count frames as it does, without this one. */
  musicCrc: number | null;
  /** Its own checksum says that it is not what was written: no number in it can be trusted. */
  isDamaged: boolean;
}

export interface MpegFrame {
  header: MpegHeader;
  bytes: Uint8Array;
  /** Bytes before it that are neither frames nor tags. */
  passed: number;
}

/**
 * The frames of a stream in their order; what is no frame between them is passed over and counted. Returns how many bytes
 * behind the last one may have been frames: neither tags, nor text, nor the noughts that a file is filled up with.
 */
export async function* mpegFrames(window: ByteWindow): AsyncGenerator<MpegFrame, number> {
  let passed = 0;
  /** How many of the bytes that were passed over last are noughts. */
  let noughts = 0;
  let isText = false;
  let last: MpegHeader | null = null;
  let known: MpegHeader | null = null;
  while (await window.has(4)) {
    const { bytes } = window;
    const tag = await tagHere(window);
    if (tag) {
      await window.has(tag.length);
      passed = Math.max(0, passed - tag.before);
      window.drop(Math.min(tag.length, window.bytes.length));
      continue;
    }
    const header: MpegHeader | null = mpegHeaderAt(bytes, 0);
    const fits: boolean =
      header !== null &&
      (!known || isAlike(header, known)) &&
      (((await goesOn(window, 0, header)) && !(await holdsAnother(window, header))) ||
        (passed === 0 && last !== null && (await isBeforeDamage(window, header, last))));
    if (header && fits) {
      const whole = await window.has(header.length);
      if (whole) {
        // Once the stream is known, what is put between frames tells itself by its other make.
        known ??= header;
        last = header;
        yield { header, bytes: window.bytes.slice(0, header.length), passed };
        passed = noughts = 0;
        window.drop(header.length);
        continue;
      }
    }
    const sync = window.bytes.indexOf(0xff, 1);
    const step = nextTag(window.bytes, sync < 0 ? window.bytes.length : sync);
    if (passed === 0) isText = beginsAsText(window.bytes);
    passed += step;
    const filled = noughtsAtEnd(window.bytes.subarray(0, step));
    noughts = filled === step ? noughts + step : filled;
    window.drop(step);
  }
  return isText ? 0 : Math.max(0, passed - noughts);
}

/** Somebody's tag that is not known here begins with so many letters; frames are as good as chance. */
const LETTERS = 8;

const beginsAsText = (bytes: Uint8Array) =>
  bytes.length >= LETTERS && bytes.subarray(0, LETTERS).every((byte) => byte >= 0x20 && byte < 0x7f);

function noughtsAtEnd(bytes: Uint8Array): number {
  let count = 0;
  while (count < bytes.length && bytes[bytes.length - 1 - count] === 0) count++;
  return count;
}

const isAlike = (a: MpegHeader, b: MpegHeader) =>
  a.sampleRate === b.sampleRate && a.samples === b.samples && a.channels === b.channels;

/** But for a byte of padding: its length is not what was damaged. */
const isAsLong = ({ length }: MpegHeader, last: MpegHeader) => Math.abs(length - last.length) <= 1;

/** Whether another frame, a tag or the end follows: a single sync word is too common by chance. */
async function goesOn(window: ByteWindow, at: number, header: MpegHeader): Promise<boolean> {
  const end = at + header.length;
  if (!(await window.has(end + 4))) return true;
  const next = mpegHeaderAt(window.bytes, end);
  return next !== null ? isAlike(next, header) : isTag(window.bytes, end);
}

/** Whether a frame ends where another one does that begins inside of it: its length was damaged, and it would swallow that one. */
async function holdsAnother(window: ByteWindow, header: MpegHeader): Promise<boolean> {
  await window.has(header.length + 4);
  for (
    let at = window.bytes.indexOf(0xff, 4);
    at > 0 && at < header.length;
    at = window.bytes.indexOf(0xff, at + 1)
  ) {
    const inner = mpegHeaderAt(window.bytes, at);
    if (inner && isAlike(inner, header) && at + inner.length === header.length) return true;
  }
  return false;
}

/** No frame of layer III is longer, bytes. */
const LONGEST_FRAME = 2881;

/**
 * Whether a frame that stands where one is due is whole, though none follows: the next one that goes on, if there is any, stands
 * behind its end, so that what is damaged is what comes after it. Where exactly one frame would fill all until there, it may be its own
 * length that was damaged: then it is believed where it is as long as the one before it.
 */
async function isBeforeDamage(window: ByteWindow, header: MpegHeader, last: MpegHeader): Promise<boolean> {
  const until = header.length + LONGEST_FRAME;
  await window.has(until + LONGEST_FRAME);
  for (
    let at = window.bytes.indexOf(0xff, 1);
    at > 0 && at < until;
    at = window.bytes.indexOf(0xff, at + 1)
  ) {
    const next = mpegHeaderAt(window.bytes, at);
    if (next && isAlike(next, header) && (await goesOn(window, at, next)))
      return at > header.length && (isAsLong(header, last) || !frameLengths(header).has(at));
  }
  return true;
}

/** Encoders that write LAME's addition, by the first letters of their names. */
const LIKE_LAME = ['LAME', 'Lavc', 'Lavf'];

/** What the first frame claims, or null when it is a frame of sound. */
export function claimsOf({ header, bytes }: MpegFrame): MpegClaims | null {
  const at = 4 + (header.hasChecksum ? 2 : 0) + header.sideBytes;
  const word = (from: number) =>
    ((bytes[from] << 24) | (bytes[from + 1] << 16) | (bytes[from + 2] << 8) | bytes[from + 3]) >>> 0;
  const name = String.fromCharCode(...bytes.subarray(at, at + 4));
  const vbri = String.fromCharCode(...bytes.subarray(36, 40));
  if (vbri === 'VBRI') return { frames: word(50) * header.samples, musicCrc: null, isDamaged: false };
  if (name !== 'Xing' && name !== 'Info') return null;
  const flags = word(at + 4);
  let next = at + 8;
  const count = flags & 1 ? word(next) : null;
  next += flags & 1 ? 4 : 0;
  next += flags & 2 ? 4 : 0;
  next += flags & 4 ? 100 : 0;
  next += flags & 8 ? 4 : 0;
  // LAME's addition: nine letters of the encoder, then its figures, the last but one a checksum of the sound.
  const encoder = String.fromCharCode(...bytes.subarray(next, next + 4));
  const musicCrc = LIKE_LAME.includes(encoder) ? (bytes[next + 32] << 8) | bytes[next + 33] : null;
  // The last one is a checksum of all this; encoders that do not count it write nought.
  const ownCrc = encoder === 'LAME' ? (bytes[next + 34] << 8) | bytes[next + 35] : 0;
  const isDamaged = ownCrc !== 0 && ownCrc !== lameCrc16(bytes.subarray(0, next + 34), 0);
  return { frames: count === null ? null : count * header.samples, musicCrc, isDamaged };
}

/** A frame of the same make that sounds as nothing and leaves the places of all others as they are. */
export function silentFrame({ header, bytes }: MpegFrame): Uint8Array {
  const silent = new Uint8Array(header.length);
  silent.set(bytes.subarray(0, 4));
  // No checksum is kept; the rest is noughts: no bits of this frame, and none that it takes from earlier ones.
  silent[1] |= 1;
  return silent;
}
