import { decodeAudio } from '@/core/formats/decode';
import { mpegHeaderAt } from '@/core/formats/mpegFrames';
import { readEntry } from '@/server/entry';
import { md5 } from '@/server/md5';
import { closeDatabase } from '@/store/database';
import { opening, together } from '../support/bytes';
import { encoded, type Encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const wav = drumFile({ bpm: 110, bars: 4, one: 0.25 });

async function monoOf(bytes: Uint8Array) {
  const samples: number[] = [];
  const summary = await decodeAudio(opening(bytes, 4001), (block) => {
    for (let i = 0; i < block[0].length; i++)
      samples.push(block.reduce((sum, channel) => sum + channel[i], 0) / block.length);
  });
  return { ...summary, samples };
}

/** Shift in frames at which two recordings agree best. */
function lag(a: number[], b: number[], reach = 1500): number {
  let best = 0;
  let most = -Infinity;
  for (let shift = -reach; shift <= reach; shift++) {
    let sum = 0;
    let energy = 1e-9;
    for (let i = 20_000; i < 30_000; i++) {
      sum += a[i] * b[i + shift];
      energy += b[i + shift] ** 2;
    }
    sum /= Math.sqrt(energy);
    if (sum > most) {
      most = sum;
      best = shift;
    }
  }
  return best;
}

test('FLAC gives the very same samples', async () => {
  const [from, plain] = [await monoOf(encoded(wav, 'flac')), await monoOf(wav)];
  expect(from.format).toBe('flac');
  expect(from.frames).toBe(plain.frames);
  expect(from.samples.every((value, i) => value === plain.samples[i])).toBe(true);
});

test.each([
  ['mp3', 'mp3', 44100],
  ['ogg', 'ogg-vorbis', 44100],
] as const)('%s comes without its encoder’s delay and padding', async (as, format, rate) => {
  const [from, plain] = [await monoOf(encoded(wav, as)), await monoOf(wav)];
  expect(from).toMatchObject({ format, sampleRate: rate, frames: plain.frames, warnings: [] });
  expect(lag(plain.samples, from.samples)).toBe(0);
});

test('Opus comes at its own rate, of the same length', async () => {
  const [from, plain] = [await monoOf(encoded(wav, 'opus')), await monoOf(wav)];
  expect(from).toMatchObject({ format: 'ogg-opus', sampleRate: 48000 });
  expect(Math.abs(from.frames / 48000 - plain.frames / 44100)).toBeLessThan(0.001);
});

test.each(['flac', 'mp3', 'ogg', 'opus'] as Encoded[])(
  'a %s file is told by its content and measured like its WAV',
  async (as) => {
    const { sampleId } = await bring('misnamed.wav', encoded(wav, as));
    await measureAll();
    const { settled, summary } = await readEntry(sampleId);
    expect(summary.fault).toBeNull();
    expect(Math.abs(settled.grid!.tempoBpm - 110)).toBeLessThan(0.05);
    expect(Math.abs(settled.grid!.one - 0.25)).toBeLessThan(0.006);
  },
);

const COMPRESSED: Encoded[] = ['flac', 'oggFlac', 'mp3', 'ogg', 'opus'];

test.each(COMPRESSED)(
  'a %s file that was cut off in the middle gives its first half and says so',
  async (as) => {
    const whole = encoded(wav, as);
    const { frames, sampleRate, warnings } = await monoOf(whole.subarray(0, whole.length / 2));
    expect(frames / sampleRate).toBeGreaterThan(2);
    expect(frames / sampleRate).toBeLessThan(8);
    expect(warnings.join()).toMatch(/only .* s are there|breaks off after/);
  },
);

test.each(COMPRESSED)('damage in the middle of a %s file costs itself and moves nothing', async (as) => {
  const whole = encoded(wav, as);
  const [sound, broken] = [await monoOf(whole), whole.slice()];
  const at = Math.floor(whole.length * 0.45);
  // As long as a sector of a disk.
  broken.fill(0x55, at, at + 512);
  const { frames, samples, sampleRate, warnings, lost } = await monoOf(broken);
  expect(warnings.join()).toMatch(/could not be decoded; silence stands for it/);
  expect(Math.abs(frames - sound.frames)).toBeLessThan(2);
  const [gap] = lost!;
  expect(gap.from).toBeGreaterThan(0.3 * (sound.frames / sampleRate));
  expect(gap.seconds).toBeLessThan(as === 'flac' || as === 'mp3' ? 0.25 : 3);
  // Before it and well behind it the sound is what it was, where it was.
  const wrong = (from: number, to: number) => {
    let [most, loud] = [0, 0];
    for (let i = Math.round(from * sampleRate); i < Math.round(to * sampleRate); i++) {
      most = Math.max(most, Math.abs(samples[i] - sound.samples[i]));
      loud = Math.max(loud, Math.abs(sound.samples[i]));
    }
    return most / loud;
  };
  const behind = gap.from + gap.seconds + 0.3;
  expect(wrong(0, gap.from - 0.1)).toBeLessThan(1e-3);
  expect(wrong(behind, Math.min(behind + 2, sound.frames / sampleRate))).toBeLessThan(1e-3);
});

test('whatever is damaged, replaced or cut out of an MP3 of changing bit rate, what stands behind it stays in its place', async () => {
  const whole = encoded(wav, 'mp3Changing');
  const sound = await monoOf(whole);
  const starts: number[] = [];
  let at = 0;
  while (!mpegHeaderAt(whole, at)) at++;
  for (let header = mpegHeaderAt(whole, at); header; header = mpegHeaderAt(whole, (at += header.length)))
    starts.push(at);
  const changed = (from: number, change: (bytes: Uint8Array, from: number) => Uint8Array) =>
    change(whole.slice(), starts[from]);
  const files = [
    // Sync, make, bit rate, padding of one header.
    ...[0x000080, 0x000008, 0x001000, 0x002000, 0x008000, 0x000200].map((bits, i) =>
      changed(60 + 20 * i, (bytes, from) => {
        for (const byte of [0, 1, 2]) bytes[from + byte] ^= (bits >> (8 * byte)) & 0xff;
        return bytes;
      }),
    ),
    changed(90, (bytes, from) => bytes.fill(0x55, from + 31, from + 4000)),
    changed(150, (bytes, from) => together(bytes.subarray(0, from + 100), bytes.subarray(from + 3500))),
  ];
  for (const file of files) {
    const { frames, samples } = await monoOf(file);
    expect(frames).toBe(sound.frames);
    // The last second is what it was, where it was.
    let most = 0;
    for (let i = frames - 44_100; i < frames; i++)
      most = Math.max(most, Math.abs(samples[i] - sound.samples[i]));
    expect(most).toBeLessThan(1e-3);
  }
});

test('an MP3 whose head says that more was put around the sound than was loses nothing, and says so', async () => {
  const whole = encoded(wav, 'mp3');
  const broken = whole.slice();
  // Delay and padding, both as long as can be said.
  broken.fill(0xff, Buffer.from(whole).indexOf('LAME') + 21, Buffer.from(whole).indexOf('LAME') + 24);
  const [sound, found] = [await monoOf(whole), await monoOf(broken)];
  expect(sound.warnings).toEqual([]);
  expect(found.frames).toBeGreaterThanOrEqual(sound.frames);
  expect(found.frames).toBeLessThan(sound.frames + 3 * 1152);
  expect(found.warnings.join()).toContain('Its head is damaged');
});

test('a single wrong bit in a FLAC file costs one of its frames', async () => {
  const whole = encoded(wav, 'flac');
  const broken = whole.slice();
  broken[Math.floor(whole.length / 2)] ^= 4;
  const { frames, lost, warnings } = await monoOf(broken);
  expect(frames).toBe((await monoOf(whole)).frames);
  expect(lost).toHaveLength(1);
  expect(lost![0].seconds).toBeCloseTo(4096 / 44100, 3);
  expect(warnings.join()).toMatch(/^0\.09 s at \d\.\d\d s could not be decoded/);
});

test('a FLAC file whose frames are whole but not those of its encoder is told by its checksum', async () => {
  const changed = encoded(wav, 'flac').slice();
  // The sum itself, in STREAMINFO.
  changed[8 + 20] ^= 1;
  const told = await decodeAudio(opening(changed), () => {}, { md5 });
  expect(told.warnings.join()).toMatch(/not what its encoder wrote/);
  const whole = await decodeAudio(opening(encoded(wav, 'flac')), () => {}, { md5 });
  expect(whole.warnings).toEqual([]);
});

test('a changed byte of sound in an MP3 file is told by its encoder’s checksum', async () => {
  const changed = encoded(wav, 'mp3').slice();
  // In the bits of a frame, not in its header.
  const at = Math.floor(changed.length / 2);
  changed[changed[at - 1] === 0xff ? at + 50 : at] ^= 16;
  expect((await monoOf(changed)).warnings).toHaveLength(1);
});

test('a damaged file is measured with less trust, and uncertain', async () => {
  const whole = encoded(wav, 'flac');
  const { sampleId } = await bring('torn.flac', whole.subarray(0, Math.floor(whole.length * 0.6)));
  const { sampleId: fine } = await bring('fine.flac', whole);
  await measureAll();
  const [torn, good] = [await readEntry(sampleId), await readEntry(fine)];
  expect(torn.summary.doubts).toContainEqual({ code: 'damaged', weight: 0.6 });
  expect(good.summary.doubts).not.toContainEqual({ code: 'damaged', weight: 0.6 });
  expect(torn.warnings.join()).toMatch(/The file says 8\.98 s, but only 5\.\d\d s are there/);
  expect(torn.measurement!.kindSureness).toBeLessThan(0.6 * good.measurement!.kindSureness + 0.2);
});

test('an M4A loop comes without padding, by its edit list and by the encoder’s field alike', async () => {
  const loop = drumFile({ bpm: 128, bars: 4 });
  const { frames } = await monoOf(loop);
  for (const as of ['m4a', 'm4aNoEdits'] as const) {
    const { sampleId } = await bring(
      `${as}.m4a`,
      as === 'm4a' ? encoded(loop, as) : withGapless(encoded(loop, as), 1024, frames),
    );
    await measureAll();
    const { summary, settled, warnings } = await readEntry(sampleId);
    expect(warnings.join()).not.toMatch(/damaged|are there/);
    expect(summary.durationSeconds).toBe(frames / 44100);
    expect(Math.abs(settled.grid!.tempoBpm - 128)).toBeLessThan(0.01);
  }
});

/** The field in which encoders without an edit list say delay, padding and length, put into an MP4 file. */
function withGapless(mp4: Uint8Array, delay: number, frames: number): Uint8Array {
  const box = (name: string, ...parts: Buffer[]): Buffer => {
    const body = Buffer.concat(parts);
    const head = Buffer.alloc(8);
    head.writeUInt32BE(8 + body.length);
    head.write(name, 4, 'latin1');
    return Buffer.concat([head, body]);
  };
  const nought = Buffer.alloc(4);
  const hex = (n: number) => n.toString(16).toUpperCase().padStart(8, '0');
  const text = Buffer.from(` 00000000 ${hex(delay)} 00000000 ${hex(frames).padStart(16, '0')}`);
  const field = box(
    '----',
    box('mean', nought, Buffer.from('com.apple.iTunes')),
    box('name', nought, Buffer.from('iTunSMPB')),
    box('data', Buffer.from([0, 0, 0, 1, 0, 0, 0, 0]), text),
  );
  const handler = box('hdlr', Buffer.alloc(8), Buffer.from('mdirappl'), Buffer.alloc(9));
  const tags = box('udta', box('meta', nought, handler, box('ilst', field)));
  const file = Buffer.from(mp4);
  for (let at = 0; at < file.length; at += file.readUInt32BE(at)) {
    if (file.toString('latin1', at + 4, at + 8) !== 'moov') continue;
    const inner: Buffer[] = [];
    const end = at + file.readUInt32BE(at);
    for (let p = at + 8; p < end; p += file.readUInt32BE(p))
      if (file.toString('latin1', p + 4, p + 8) !== 'udta')
        inner.push(file.subarray(p, p + file.readUInt32BE(p)));
    return Uint8Array.from(
      Buffer.concat([file.subarray(0, at), box('moov', ...inner, tags), file.subarray(end)]),
    );
  }
  throw new Error('no table in this file');
}
