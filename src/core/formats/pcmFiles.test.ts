import { randomFrom } from '@/demo/random';
import { inBlocks, opening } from '../../../tests/support/bytes';
import { UndecodableError } from './audioFormat';
import { decodeAudio } from './decode';
import { encodeAiff } from './encodeAiff';
import { encodeWave } from './encodeWave';
import { sniffType } from './sniff';

const random = randomFrom(4);
const left = Float32Array.from({ length: 3001 }, () => random() * 1.9 - 0.95);
const right = Float32Array.from({ length: 3001 }, () => random() * 1.9 - 0.95);

async function decoded(bytes: Uint8Array, blockSize?: number) {
  const channels: number[][] = [];
  const summary = await decodeAudio(opening(bytes, blockSize), (block) =>
    block.forEach((channel, c) => (channels[c] ??= []).push(...channel)),
  );
  return { ...summary, channels };
}

const worst = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

test.each([
  ['WAV, 16 bits', encodeWave([left, right], 48000, 16), 1 / 65536],
  ['WAV, 24 bits', encodeWave([left, right], 48000, 24), 1 / 2 ** 24],
  ['WAV, float', encodeWave([left, right], 48000, '32f'), 0],
  ['AIFF, 16 bits', encodeAiff([left, right], 48000, 16), 1 / 65536],
  ['AIFF, 24 bits', encodeAiff([left, right], 48000, 24), 1 / 2 ** 24],
])('%s comes back sample by sample', async (_, bytes, tolerance) => {
  const found = await decoded(bytes);
  expect(found).toMatchObject({ sampleRate: 48000, frames: 3001, warnings: [] });
  expect(worst(found.channels[0], left)).toBeLessThanOrEqual(tolerance + 1e-9);
  expect(worst(found.channels[1], right)).toBeLessThanOrEqual(tolerance + 1e-9);
});

test('8-bit WAV is unsigned', async () => {
  const bytes = new Uint8Array(44 + 4);
  bytes.set(encodeWave([new Float32Array(2)], 8000, 16).subarray(0, 44));
  const view = new DataView(bytes.buffer);
  view.setUint16(32, 1, true);
  view.setUint16(34, 8, true);
  view.setUint32(40, 4, true);
  bytes.set([128, 255, 0, 64], 44);
  expect((await decoded(bytes)).channels[0]).toEqual([0, 127 / 128, -1, -0.5]);
});

test('chunks that are not known, of odd length, are passed over', async () => {
  const plain = encodeWave([left], 44100, 16);
  const junk = Uint8Array.from([...'junk'].map((c) => c.charCodeAt(0)).concat([3, 0, 0, 0, 1, 2, 3, 0]));
  const bytes = Uint8Array.from([...plain.subarray(0, 12), ...junk, ...plain.subarray(12)]);
  expect((await decoded(bytes, 5)).frames).toBe(3001);
});

test.each([0, 0xffffffff])(
  'a recorder that left %i as its length is read to the end, with a doubt',
  async (length) => {
    const bytes = encodeWave([left], 44100, 16);
    new DataView(bytes.buffer).setUint32(40, length, true);
    const { frames, warnings } = await decoded(bytes);
    expect(frames).toBe(3001);
    expect(warnings.join()).toMatch(/was not closed .* read to its end/);
  },
);

test('a WAV that is empty indeed is no sound', async () => {
  const bytes = encodeWave([left], 44100, 16).subarray(0, 44);
  new DataView(bytes.buffer, bytes.byteOffset).setUint32(40, 0, true);
  const list = [...'LIST'].map((c) => c.charCodeAt(0)).concat([4, 0, 0, 0, 73, 78, 70, 79]);
  await expect(decoded(bytes)).rejects.toThrow('no audio data');
  await expect(decoded(Uint8Array.from([...bytes, ...list]))).rejects.toThrow('no audio data');
});

test('a file that was cut off gives what is there, and says so', async () => {
  const found = await decoded(encodeWave([left, right], 44100, 24).subarray(0, 44 + 6 * 1000 + 2));
  expect(found.frames).toBe(1000);
  expect(found.warnings[0]).toMatch(/says 0\.07 s, but only 0\.02 s/);
});

test('also where only some milliseconds are missing, in words that tell them', async () => {
  const wav = await decoded(encodeWave([left], 44100, 16).subarray(0, 44 + 2 * 2990));
  expect(wav.warnings).toEqual(['The last 0.2 ms of what the file says are missing.']);
  const aiff = encodeAiff([left], 44100, 16);
  expect((await decoded(aiff.subarray(0, aiff.length - 200))).warnings[0]).toMatch(
    /last 2\.\d ms .* missing/,
  );
});

test.each([
  ['1 bit', 26, [0, 1], 'claims 1-bit samples'],
  ['a rate that is no number', 28, [0x7f, 0xff], 'a sample rate that is no number'],
])('an AIFF of %s is refused in words', async (_, at, values, words) => {
  const aiff = encodeAiff([left], 44100, 16).slice();
  aiff.set(values, at);
  await expect(decoded(aiff)).rejects.toThrow(words);
});

test('samples that are no numbers become silence, and are mentioned', async () => {
  const sick = left.slice();
  sick[10] = NaN;
  sick[20] = Infinity;
  const found = await decoded(encodeWave([sick], 44100, '32f'));
  expect(found.channels[0][10]).toBe(0);
  expect(found.warnings[0]).toMatch(/2 samples were not numbers/);
});

test.each([
  ['nothing', new Uint8Array(0), /empty file/],
  ['text', new TextEncoder().encode('the prompter’s notes for Saturday '.repeat(20)), /text/],
  ['a ZIP', Uint8Array.from([0x50, 0x4b, 3, 4, ...new Array(60).fill(7)]), /ZIP/],
  ['a WAV without audio', encodeWave([left], 44100).subarray(0, 36), /no audio data/],
  ['a WAV torn inside its format', encodeWave([left], 44100).subarray(0, 30), /ends inside its format/],
  ['a MIDI file', new TextEncoder().encode('MThd\0\0\0\x06\0\0\0\x01\0\x60'), /MIDI/],
  ['an AIFF stub', encodeAiff([left], 44100).subarray(0, 20), /ends/],
])('%s is refused with a sentence', async (_, bytes, words) => {
  const refused = decoded(bytes);
  await expect(refused).rejects.toThrow(UndecodableError);
  await expect(refused).rejects.toThrow(words);
});

test('a FLAC that is damaged all through is refused, not taken as silence', async () => {
  const bytes = Uint8Array.from(
    [...'fLaC'].map((c) => c.charCodeAt(0)).concat(Array.from({ length: 400 }, (_, i) => (i * 37) & 255)),
  );
  await expect(decoded(bytes)).rejects.toThrow(UndecodableError);
});

test('types are told by content', () => {
  const bytes = (text: string) =>
    Uint8Array.from([...text].map((c) => c.charCodeAt(0)).concat(new Array(100).fill(0)));
  expect(sniffType(bytes('RIFF\0\0\0\0WAVE'))).toEqual({ format: 'wav' });
  expect(sniffType(bytes('FORM\0\0\0\0AIFC'))).toEqual({ format: 'aiff' });
  expect(sniffType(bytes('OggS' + '\0'.repeat(24) + '\x01vorbis'))).toEqual({ format: 'ogg-vorbis' });
  expect(sniffType(bytes('OggS' + '\0'.repeat(24) + 'OpusHead'))).toEqual({ format: 'ogg-opus' });
  expect(sniffType(bytes('%PDF-1.7'))).toMatchObject({ looksLike: 'a PDF document' });
  // One sync word by chance is no MP3.
  expect(sniffType(Uint8Array.from([0, 0xff, 0xfb, 0x90, ...new Array(500).fill(1)]))).toMatchObject({
    format: 'other',
  });
});

/** A chunk of an AIFF file. */
const aiffChunk = (id: string, body: Uint8Array, size = body.length) => {
  const bytes = new Uint8Array(8 + body.length + (body.length % 2));
  bytes.set([...id].map((letter) => letter.charCodeAt(0)));
  new DataView(bytes.buffer).setUint32(4, size);
  bytes.set(body, 8);
  return bytes;
};

const usual = encodeAiff([left, right], 48000, 16);
// FORM, then COMM of 18 bytes, then SSND.
const [form, common, sound] = [usual.subarray(0, 12), usual.subarray(20, 38), usual.subarray(46)];
const layout = [...usual.subarray(12, 16), ...usual.subarray(38, 42)];
const soundFirst = Uint8Array.from([...form, ...aiffChunk('SSND', sound), ...aiffChunk('COMM', common)]);

describe('what stands in an unusual place or is longer than it may be', () => {
  test('sound before its description is read when the file is opened once more', async () => {
    expect(String.fromCharCode(...layout)).toBe('COMMSSND');
    let opened = 0;
    const samples: number[] = [];
    const open = () => {
      opened++;
      return inBlocks(soundFirst, 100);
    };
    const summary = await decodeAudio(open, ([channel]) => void samples.push(...channel));
    expect(summary).toMatchObject({ sampleRate: 48000, channels: 2, frames: 3001, warnings: [] });
    expect(worst(samples, left)).toBeLessThan(1 / 65000);
    expect(opened).toBe(2);
  });

  test('a description that claims to be gigabytes long is read as far as it matters', async () => {
    const wave = encodeWave([left], 44100, 16);
    const longer = new Uint8Array(wave.length + 200_000);
    longer.set(wave.subarray(0, 36));
    longer.set(wave.subarray(36), 200_036);
    new DataView(longer.buffer).setUint32(16, 200_016, true);
    expect((await decoded(longer, 4096)).frames).toBe(3001);
    // To its end there is nothing else.
    new DataView(longer.buffer).setUint32(16, 0xfffffff0, true);
    await expect(decoded(longer, 4096)).rejects.toThrow('The WAV file has no audio data.');
    const aiff = Uint8Array.from([
      ...form,
      ...aiffChunk('COMM', common, 0xfffffff0),
      ...aiffChunk('SSND', sound),
    ]);
    await expect(decoded(aiff, 4096)).rejects.toThrow('The AIFF file has no audio data.');
  });
});

describe('what the bytes come from is let go', () => {
  /** Opens bytes and counts how often that was, and how many of them are still open. */
  function counted(bytes: Uint8Array) {
    const count = { opened: 0, open: 0 };
    async function* source() {
      count.opened++;
      count.open++;
      try {
        yield* inBlocks(bytes, 100);
      } finally {
        count.open--;
      }
    }
    return { count, source };
  }
  const damaged = encodeWave([left], 44100, 16);
  new DataView(damaged.buffer).setUint16(20, 99, true);
  const trailed = Uint8Array.from([...encodeWave([left], 44100, 16), ...damaged]);

  test.each([
    ['of a file that is read whole', encodeWave([left], 44100, 16), true],
    ['of one with more behind its sound', trailed, true],
    ['of a damaged one', damaged, false],
    ['of one that is no audio', new TextEncoder().encode('moth '.repeat(900)), false],
  ])('%s', async (_, bytes, isSound) => {
    const { count, source } = counted(bytes);
    const ended = decodeAudio(source, () => {});
    if (isSound) await ended;
    else await expect(ended).rejects.toThrow(UndecodableError);
    expect(count).toEqual({ opened: 1, open: 0 });
  });

  test('of both openings where a file is opened twice', async () => {
    const { count, source } = counted(soundFirst);
    await decodeAudio(source, () => {});
    expect(count).toEqual({ opened: 2, open: 0 });
  });
});
