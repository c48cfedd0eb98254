import { oggCrc32 } from './checksums';
import type { ByteWindow } from './window';

/** One page of an Ogg stream (RFC 3533) whose checksum is right. */
export interface OggPage {
  /** The page as it stands in the file. */
  bytes: Uint8Array;
  /** Where its body begins in `bytes`. */
  bodyAt: number;
  /** Lengths of the pieces of packets in its body; 255 goes on in the next. */
  lacing: Uint8Array;
  isFirst: boolean;
  isLast: boolean;
  /** Number of frames that are decoded at its end, as its codec counts; −1 when no packet ends here. */
  granule: number;
  serial: number;
  sequence: number;
}

const HEADER = 27;

/** The whole pages of a stream in their order; what is damaged between them is left out. */
export async function* oggPages(window: ByteWindow): AsyncGenerator<OggPage> {
  while (await window.has(HEADER)) {
    const page = await pageHere(window);
    if (page) {
      window.drop(page.bytes.length);
      yield page;
    } else {
      const { bytes } = window;
      let next = bytes.indexOf(0x4f, 1);
      while (next >= 0 && next + 3 < bytes.length && !isSync(bytes, next))
        next = bytes.indexOf(0x4f, next + 1);
      window.drop(next < 0 ? bytes.length : next);
    }
  }
}

const isSync = (bytes: Uint8Array, at: number) =>
  bytes[at] === 0x4f && bytes[at + 1] === 0x67 && bytes[at + 2] === 0x67 && bytes[at + 3] === 0x53;

async function pageHere(window: ByteWindow): Promise<OggPage | null> {
  // Version 0, and three flags: rubbish with many sync words is told before it is added up.
  if (!isSync(window.bytes, 0) || window.bytes[4] !== 0 || window.bytes[5] > 7) return null;
  const pieces = window.bytes[26];
  if (!(await window.has(HEADER + pieces))) return null;
  const lacing = window.bytes.slice(HEADER, HEADER + pieces);
  const length = HEADER + pieces + lacing.reduce((sum, piece) => sum + piece, 0);
  if (!(await window.has(length))) return null;
  const bytes = window.bytes.slice(0, length);
  const view = new DataView(bytes.buffer);
  if (oggCrc32(bytes) !== view.getUint32(22, true)) return null;
  return {
    bytes,
    bodyAt: HEADER + pieces,
    lacing,
    isFirst: (bytes[5] & 2) !== 0,
    isLast: (bytes[5] & 4) !== 0,
    granule: Number(view.getBigInt64(6, true)),
    serial: view.getUint32(14, true),
    sequence: view.getUint32(18, true),
  };
}

/** The packets that end in a page; `held` keeps the piece of one that goes on in the next page. */
export function packetsOf({ bytes, bodyAt, lacing }: OggPage, held: Uint8Array[]): Uint8Array[] {
  const packets: Uint8Array[] = [];
  let at = bodyAt;
  let from = at;
  for (const piece of lacing) {
    at += piece;
    if (piece === 255) continue;
    packets.push(joined([...held.splice(0), bytes.subarray(from, at)]));
    from = at;
  }
  if (from < at) held.push(bytes.subarray(from, at));
  return packets;
}

function joined(parts: Uint8Array[]): Uint8Array {
  if (parts.length === 1) return parts[0];
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
