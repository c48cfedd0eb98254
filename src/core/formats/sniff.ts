import type { SniffedType } from './audioFormat';
import { id3Bytes, isId3 } from './id3';
import { mpegHeaderAt } from './mpegFrames';

/** How many bytes from the beginning of a file are enough for `sniffType`. */
export const SNIFF_BYTES = 4096;

/** Whether bytes begin as a ZIP archive does. */
export function isZip(head: Uint8Array): boolean {
  return ascii(head, 0, 4) === 'PK\x03\x04' || ascii(head, 0, 4) === 'PK\x05\x06';
}

/** Whether a name is that of an archive; only for choosing among files, the content decides. */
export const isArchiveName = (name: string): boolean => /\.zip$/i.test(name);

/** Tells the type of a file from its first bytes; its name plays no part. */
export function sniffType(head: Uint8Array): SniffedType {
  if (head.length === 0) return { format: 'other', looksLike: 'an empty file' };
  const tag = ascii(head, 0, 4);
  const form = ascii(head, 8, 4);
  if ((tag === 'RIFF' || tag === 'RF64') && form === 'WAVE') return { format: 'wav' };
  if (tag === 'FORM' && (form === 'AIFF' || form === 'AIFC')) return { format: 'aiff' };
  if (tag === 'fLaC') return { format: 'flac' };
  if (tag === 'MThd') return { format: 'midi' };
  if (tag === 'OggS') {
    const page = ascii(head, 0, 96);
    if (page.includes('\x01vorbis')) return { format: 'ogg-vorbis' };
    if (page.includes('OpusHead')) return { format: 'ogg-opus' };
    if (page.includes('\x7fFLAC')) return { format: 'ogg-flac' };
    return { format: 'other', looksLike: 'an Ogg file without Vorbis, Opus or FLAC audio' };
  }
  if (isId3(head, 0))
    return ascii(head, id3Bytes(head, 0), 4) === 'fLaC' ? { format: 'flac' } : { format: 'mp3' };
  // QuickTime files without sound are told apart by the program that decodes them.
  if (ascii(head, 4, 4) === 'ftyp') return { format: 'mp4' };
  if (hasMpegFrames(head)) return { format: 'mp3' };
  return { format: 'other', looksLike: describe(head, tag) };
}

/** Length of the MPEG layer III frame that begins at `at`, or 0 if none does. */
const mpegFrameLength = (bytes: Uint8Array, at: number): number => mpegHeaderAt(bytes, at)?.length ?? 0;

/** Two frames in a row, anywhere near the beginning: a single sync word is too common by chance. */
function hasMpegFrames(head: Uint8Array): boolean {
  for (let at = 0; at < Math.min(head.length - 4, 2048); at++) {
    const length = mpegFrameLength(head, at);
    if (length > 0 && mpegFrameLength(head, at + length) > 0) return true;
    if (length > 0 && at === 0 && at + length >= head.length) return true;
  }
  return false;
}

function describe(head: Uint8Array, tag: string): string {
  if (tag === 'RIFF' || tag === 'RF64') return 'a RIFF file that is not audio';
  if (tag === 'FORM') return 'an IFF file that is not audio';
  if (tag.startsWith('PK')) return 'a ZIP archive';
  if (tag === '%PDF') return 'a PDF document';
  if (tag === '\x89PNG' || tag.startsWith('\xff\xd8')) return 'a picture';
  let printable = 0;
  for (const byte of head) if (byte >= 32 || byte === 9 || byte === 10 || byte === 13) printable++;
  return printable / head.length > 0.97 && !head.includes(0) ? 'text' : 'data of an unknown type';
}

function ascii(bytes: Uint8Array, at: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + length));
}
