import { AUDIO_EXTENSIONS } from './endings';
import { isZip, sniffType } from './sniff';

const bytes = (...parts: (string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((part) => (typeof part === 'string' ? [...part].map((c) => c.charCodeAt(0)) : part)),
  );
const SIZE = [0, 0, 0, 0];

test.each([
  ['RIFF/WAVE', bytes('RIFF', SIZE, 'WAVEfmt '), 'wav'],
  ['RF64', bytes('RF64', [255, 255, 255, 255], 'WAVEds64'), 'wav'],
  ['AIFF', bytes('FORM', SIZE, 'AIFFCOMM'), 'aiff'],
  ['AIFF-C', bytes('FORM', SIZE, 'AIFCFVER'), 'aiff'],
  ['FLAC', bytes('fLaC', SIZE), 'flac'],
  ['FLAC behind a tag', bytes('ID3', [4, 0, 0, 0, 0, 0, 3], 'tagfLaC'), 'flac'],
  ['MP3 behind a tag', bytes('ID3', [4, 0, 0, 0, 0, 2, 0], 'whatever'), 'mp3'],
  ['Ogg Vorbis', bytes('OggS', new Array(24).fill(0), '\x01vorbis'), 'ogg-vorbis'],
  ['Ogg Opus', bytes('OggS', new Array(24).fill(0), 'OpusHead'), 'ogg-opus'],
  ['Ogg FLAC', bytes('OggS', new Array(24).fill(0), '\x7fFLAC'), 'ogg-flac'],
  ['MP4', bytes([0, 0, 0, 24], 'ftypM4A '), 'mp4'],
  ['MIDI', bytes('MThd', [0, 0, 0, 6]), 'midi'],
])('%s is told by its first bytes', (_name, head, format) => {
  expect(sniffType(head).format).toBe(format);
});

/** MPEG-1 layer III, 128 kbit/s at 44.1 kHz: a frame is 417 bytes, with padding 418. */
const FRAME = [0xff, 0xfb, 0x90, 0x00];
function frames(lengths: readonly number[], before: number[] = []): Uint8Array {
  const out = [...before];
  for (const length of lengths) out.push(...FRAME, ...new Array(length - 4).fill(0x55));
  return Uint8Array.from(out);
}

test('bare MP3 frames are found, also a little behind the beginning', () => {
  expect(sniffType(frames([417, 417, 417])).format).toBe('mp3');
  expect(sniffType(frames([417, 417], new Array(100).fill(1))).format).toBe('mp3');
});

test('one sync word by chance is no MP3', () => {
  expect(sniffType(frames([300, 500], [1, 2, 3])).format).toBe('other');
});

test.each([
  ['an empty file', new Uint8Array(0)],
  ['a RIFF file that is not audio', bytes('RIFF', SIZE, 'AVI LIST')],
  ['an IFF file that is not audio', bytes('FORM', SIZE, 'ILBMBMHD')],
  ['a ZIP archive', bytes('PK\x03\x04', SIZE)],
  ['a PDF document', bytes('%PDF-1.7')],
  ['a picture', bytes([0x89], 'PNG\r\n')],
  ['a picture', bytes([0xff, 0xd8, 0xff, 0xe0])],
  ['text', bytes('Notes of the prompter: the curtain opens on the one.\n')],
  ['data of an unknown type', Uint8Array.from({ length: 64 }, (_, i) => (i * 37) % 251)],
  ['an Ogg file without Vorbis, Opus or FLAC audio', bytes('OggS', new Array(24).fill(0), '\x80theora')],
])('%s is said to look like that', (looksLike, head) => {
  expect(sniffType(head)).toEqual({ format: 'other', looksLike });
});

test('an archive is told, also an empty one', () => {
  expect(isZip(bytes('PK\x03\x04rest'))).toBe(true);
  expect(isZip(bytes('PK\x05\x06'))).toBe(true);
  expect(isZip(bytes('PKXX'))).toBe(false);
  expect(isZip(new Uint8Array(0))).toBe(false);
});

test('the extension only helps to choose among files', () => {
  for (const name of [
    'a.wav',
    'B.WAV',
    'c.aif',
    'd.aiff',
    'e.flac',
    'f.mp3',
    'g.ogg',
    'h.opus',
    'i.m4a',
    'j.mid',
  ])
    expect(AUDIO_EXTENSIONS.test(name)).toBe(true);
  for (const name of ['a.txt', 'wav', 'b.wav.bak', 'c.jpg', '.wavx'])
    expect(AUDIO_EXTENSIONS.test(name)).toBe(false);
});
