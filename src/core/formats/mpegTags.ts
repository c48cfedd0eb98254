import { id3Bytes, isId3 } from './id3';
import type { ByteWindow } from './window';

/** A tag that stands between or behind frames of MPEG layer III. */
export interface MpegTag {
  /** Bytes, from where it was found. */
  length: number;
  /** Bytes of it that stand before that. */
  before: number;
}

const ID3V1_BYTES = 128;
/** Of a header or footer of an APE tag. */
const APE_BYTES = 32;
/** In the flags of such: what is read here is the header, and the items stand behind it. */
const IS_HEADER = 0x20000000;

/** The tag that begins at a window: ID3 of any version, or APE; null where none does. */
export async function tagHere(window: ByteWindow): Promise<MpegTag | null> {
  await window.has(APE_BYTES);
  const { bytes } = window;
  if (isId3(bytes, 0)) return { length: id3Bytes(bytes, 0), before: 0 };
  if (isId3v1(bytes, 0)) return { length: ID3V1_BYTES, before: 0 };
  if (!isApe(bytes, 0) || bytes.length < APE_BYTES) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  // Its size counts the items and the footer.
  const size = view.getUint32(12, true);
  return view.getUint32(20, true) & IS_HEADER
    ? { length: APE_BYTES + size, before: 0 }
    : { length: APE_BYTES, before: Math.max(0, size - APE_BYTES) };
}

/** Whether a tag begins at a place. */
export const isTag = (bytes: Uint8Array, at: number): boolean =>
  isId3(bytes, at) || isId3v1(bytes, at) || isApe(bytes, at);

/** Where a tag of those that stand behind the sound begins between the first byte and `end`; `end` where none does. */
export function nextTag(bytes: Uint8Array, end: number): number {
  // No further than it is asked for: rubbish is passed over in many small steps.
  const between = bytes.subarray(0, end);
  const places = [APE, ID3V1].map((name) => {
    let at = between.indexOf(name[0], 1);
    while (at > 0 && !isNamed(bytes, at, name)) at = between.indexOf(name[0], at + 1);
    return at > 0 ? at : end;
  });
  return Math.min(...places);
}

const ID3V1 = [...'TAG'].map((letter) => letter.charCodeAt(0));
const APE = [...'APETAGEX'].map((letter) => letter.charCodeAt(0));
const isNamed = (bytes: Uint8Array, at: number, name: readonly number[]) =>
  name.every((code, i) => bytes[at + i] === code);
const isId3v1 = (bytes: Uint8Array, at: number) => isNamed(bytes, at, ID3V1);
const isApe = (bytes: Uint8Array, at: number) => isNamed(bytes, at, APE);
