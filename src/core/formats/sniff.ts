import type { SniffedType } from './audioFormat';

/** How many bytes from the beginning of a file are enough for `sniffType`. */
export const SNIFF_BYTES = 4096;

/** Whether bytes begin as a ZIP archive does. */
export function isZip(head: Uint8Array): boolean {
  return ascii(head, 0, 4) === 'PK\x03\x04' || ascii(head, 0, 4) === 'PK\x05\x06';
}

/** File name extensions of what Grento reads; only for choosing among files of a folder, the content decides. */
export const AUDIO_EXTENSIONS =
  /\.(wav|wave|bwf|rf64|aiff?|aifc|flac|mp3|ogg|oga|opus|m4a|m4b|mp4|mid|midi|smf)$/i;

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
  if (tag.startsWith('ID3')) {
    const size = ((head[6] & 127) << 21) | ((head[7] & 127) << 14) | ((head[8] & 127) << 7) | (head[9] & 127);
    return ascii(head, 10 + size, 4) === 'fLaC' ? { format: 'flac' } : { format: 'mp3' };
  }
  // QuickTime files without sound are told apart by the program that decodes them.
  if (ascii(head, 4, 4) === 'ftyp') return { format: 'mp4' };
  if (hasMpegFrames(head)) return { format: 'mp3' };
  return { format: 'other', looksLike: describe(head, tag) };
}

const BIT_RATES = {
  v1: [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  v2: [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};
const RATES = [44100, 48000, 32000];

/** Length of the MPEG layer III frame that begins at `at`, or 0 if none does. */
function mpegFrameLength(bytes: Uint8Array, at: number): number {
  if (bytes[at] !== 0xff || (bytes[at + 1] & 0xe6) !== 0xe2) return 0;
  const version = (bytes[at + 1] >> 3) & 3;
  const bitRateIndex = bytes[at + 2] >> 4;
  const rateIndex = (bytes[at + 2] >> 2) & 3;
  if (version === 1 || bitRateIndex === 0 || bitRateIndex === 15 || rateIndex === 3) return 0;
  const full = version === 3;
  const rate = RATES[rateIndex] / (full ? 1 : version === 2 ? 2 : 4);
  const kilobits = (full ? BIT_RATES.v1 : BIT_RATES.v2)[bitRateIndex];
  return Math.floor(((full ? 144000 : 72000) * kilobits) / rate) + ((bytes[at + 2] >> 1) & 1);
}

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
