import { oggCrc32 } from './checksums';
import { oggPages, packetsOf, type OggPage } from './oggPages';
import { byteReader } from './byteReader';
import { windowOf } from './window';

const COMMENT_BLOCK = 4;
const LARGEST_PAGE = 255;

/**
 * The bytes of an Ogg FLAC file with fields of its Vorbis comment set, each in place of those of its name; the sound
 * is copied page by page (RFC 9639, 10.1, and 8.6). Throws RangeError for a file whose headers are not whole.
 */
export async function* withOggFlacTags(
  source: AsyncIterable<Uint8Array>,
  fields: Readonly<Record<string, string>>,
): AsyncGenerator<Uint8Array> {
  const headers: Uint8Array[] = [];
  const held: Uint8Array[] = [];
  let first: OggPage | null = null;
  let sequence = 0;
  const number = (page: Uint8Array) => withNumber(page, sequence++);
  let areWritten = false;
  for await (const page of oggPages(windowOf(byteReader(source)))) {
    if (!first) {
      if (!page.isFirst) throw new RangeError('no beginning');
      first = page;
      yield number(page.bytes.slice());
      continue;
    }
    if (page.serial !== first.serial) continue;
    if (!areWritten && isAudio(page, held)) {
      yield* headerPages(headers, first.serial, fields).map(number);
      areWritten = true;
    }
    if (areWritten) yield number(page.bytes.slice());
    else headers.push(...packetsOf(page, held));
  }
  if (!areWritten) throw new RangeError('no sound behind the headers');
}

/** The fields of an Ogg FLAC file's Vorbis comment. Throws RangeError when it is damaged; none where there is none. */
export async function readOggFlacTags(
  source: AsyncIterable<Uint8Array>,
): Promise<{ field: string; text: string }[]> {
  const held: Uint8Array[] = [];
  for await (const page of oggPages(windowOf(byteReader(source)))) {
    if (isAudio(page, held)) return [];
    const comment = packetsOf(page, held).find((packet) => (packet[0] & 127) === COMMENT_BLOCK);
    if (!comment) continue;
    return readComment(comment).comments.map((text) => {
      const at = text.indexOf('=');
      return { field: text.slice(0, at), text: text.slice(at + 1) };
    });
  }
  return [];
}

/** Whether a page begins with a frame of sound: headers stand on pages of their own. */
const isAudio = ({ bytes, bodyAt }: OggPage, held: readonly Uint8Array[]): boolean =>
  held.length === 0 && bytes[bodyAt] === 0xff;

function headerPages(
  headers: readonly Uint8Array[],
  serial: number,
  fields: Readonly<Record<string, string>>,
): Uint8Array[] {
  const others = headers.filter((packet) => (packet[0] & 127) !== COMMENT_BLOCK);
  const before = headers.find((packet) => (packet[0] & 127) === COMMENT_BLOCK);
  // The comment comes first of them, as the mapping asks; the last one says that it is.
  const packets = [commentPacket(before ?? null, fields), ...others.map((packet) => packet.slice())];
  packets.forEach((packet, i) => (packet[0] = (packet[0] & 127) | (i === packets.length - 1 ? 128 : 0)));
  return packets.flatMap((packet) => pagesOf(packet, serial));
}

function commentPacket(before: Uint8Array | null, fields: Readonly<Record<string, string>>): Uint8Array {
  const { vendor, comments } = before ? readComment(before) : { vendor: 'Grento', comments: [] };
  const names = new Set(Object.keys(fields).map((name) => name.toUpperCase()));
  const kept = comments.filter((text) => !names.has(text.split('=')[0].toUpperCase()));
  const all = [...kept, ...Object.entries(fields).map(([name, value]) => `${name}=${value}`)];
  const encoder = new TextEncoder();
  const texts = [encoder.encode(vendor), ...all.map((text) => encoder.encode(text))];
  const body = new Uint8Array(4 + 4 + texts.reduce((sum, text) => sum + 4 + text.length, 0));
  const view = new DataView(body.buffer);
  let at = 4;
  texts.forEach((text, i) => {
    view.setUint32(at, text.length, true);
    body.set(text, at + 4);
    at += 4 + text.length;
    if (i > 0) return;
    view.setUint32(at, all.length, true);
    at += 4;
  });
  view.setUint32(0, body.length - 4);
  body[0] = COMMENT_BLOCK;
  return body;
}

function readComment(packet: Uint8Array): { vendor: string; comments: string[] } {
  const view = new DataView(packet.buffer, packet.byteOffset, packet.byteLength);
  const decoder = new TextDecoder();
  let at = 4;
  const text = () => {
    const length = view.getUint32(at, true);
    if (at + 4 + length > packet.length) throw new RangeError('the comment is not whole');
    const value = decoder.decode(packet.subarray(at + 4, at + 4 + length));
    at += 4 + length;
    return value;
  };
  const vendor = text();
  const count = view.getUint32(at, true);
  at += 4;
  const comments: string[] = [];
  for (let i = 0; i < count && at + 4 <= packet.length; i++) comments.push(text());
  return { vendor, comments };
}

/** A packet on pages of its own. */
function pagesOf(packet: Uint8Array, serial: number): Uint8Array[] {
  const lacing = Array.from({ length: Math.floor(packet.length / 255) + 1 }, (_, i) =>
    Math.min(255, packet.length - 255 * i),
  );
  const pages: Uint8Array[] = [];
  for (let from = 0; from < lacing.length; from += LARGEST_PAGE) {
    const pieces = lacing.slice(from, from + LARGEST_PAGE);
    const length = pieces.reduce((sum, piece) => sum + piece, 0);
    const page = new Uint8Array(27 + pieces.length + length);
    const view = new DataView(page.buffer);
    page.set([0x4f, 0x67, 0x67, 0x53, 0, from > 0 ? 1 : 0]);
    // No packet ends on a page whose last piece is full.
    view.setBigInt64(6, pieces[pieces.length - 1] === 255 ? -1n : 0n, true);
    view.setUint32(14, serial, true);
    page[26] = pieces.length;
    page.set(pieces, 27);
    page.set(packet.subarray(from * 255, from * 255 + length), 27 + pieces.length);
    pages.push(page);
  }
  return pages;
}

function withNumber(page: Uint8Array, sequence: number): Uint8Array {
  const view = new DataView(page.buffer, page.byteOffset, page.byteLength);
  view.setUint32(18, sequence, true);
  view.setUint32(22, oggCrc32(page), true);
  return page;
}
