import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeMidi } from 'midi-file';
import { decodeAudio } from '@/core/formats/decode';
import { encodeWave } from '@/core/formats/encodeWave';
import { readEntry } from '@/server/entry';
import { originalRange } from '@/server/originalRange';
import { closeDatabase } from '@/store/database';
import { joined, opening } from '../support/bytes';
import { encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll } from '../support/library';
import { drums } from '../support/music';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const ONE = 0.25;
const wav = drumFile({ bpm: 110, bars: 4, one: ONE });

/** What ffmpeg makes of the drums with these arguments. */
function converted(...args: string[]): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'grento-test-'));
  try {
    writeFileSync(join(folder, 'in.wav'), wav);
    const out = join(folder, 'out');
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'in.wav'), ...args, out]);
    return new Uint8Array(readFileSync(out));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

async function measuredAs(name: string, bytes: Uint8Array) {
  const { sampleId } = await bring(name, bytes);
  await measureAll();
  return readEntry(sampleId);
}

test.each([
  ['8-bit WAV', ['-c:a', 'pcm_u8', '-f', 'wav']],
  ['24-bit extensible WAV', ['-c:a', 'pcm_s24le', '-f', 'wav']],
  ['32-bit WAV', ['-c:a', 'pcm_s32le', '-f', 'wav']],
  ['float WAV', ['-c:a', 'pcm_f32le', '-f', 'wav']],
  ['64-bit float WAV', ['-c:a', 'pcm_f64le', '-f', 'wav']],
  ['RF64', ['-c:a', 'pcm_s16le', '-rf64', 'always', '-f', 'wav']],
  ['big-endian AIFF', ['-c:a', 'pcm_s16be', '-f', 'aiff']],
  ['24-bit AIFF', ['-c:a', 'pcm_s24be', '-f', 'aiff']],
  ['little-endian AIFF-C', ['-c:a', 'pcm_s16le', '-f', 'aiff']],
  ['float AIFF-C', ['-c:a', 'pcm_f32be', '-f', 'aiff']],
  ['WAV of 8 kHz', ['-ar', '8000', '-c:a', 'pcm_s16le', '-f', 'wav']],
  ['WAV of 192 kHz', ['-ar', '192000', '-c:a', 'pcm_s16le', '-f', 'wav']],
  ['WAV of six channels', ['-ac', '6', '-c:a', 'pcm_s16le', '-f', 'wav']],
  ['FLAC of 24 bits', ['-c:a', 'flac', '-sample_fmt', 's32', '-f', 'flac']],
] as const)('%s is measured at the same places', async (_, args) => {
  const { settled, summary } = await measuredAs('a', converted(...args));
  expect(summary.fault).toBeNull();
  expect(Math.abs(settled.grid!.tempoBpm - 110)).toBeLessThan(0.05);
  expect(Math.abs(settled.grid!.one - ONE)).toBeLessThan(0.006);
});

test('junk chunks before the audio and odd sizes do not move it', async () => {
  const junk = (id: string, size: number) => {
    const bytes = new Uint8Array(8 + size + (size % 2));
    bytes.set(new TextEncoder().encode(id));
    new DataView(bytes.buffer).setUint32(4, size, true);
    return bytes;
  };
  const bytes = Uint8Array.from(
    Buffer.concat([wav.subarray(0, 12), junk('JUNK', 27), junk('iXML', 1001), wav.subarray(12)]),
  );
  const { settled } = await measuredAs('junk.wav', bytes);
  expect(Math.abs(settled.grid!.one - ONE)).toBeLessThan(0.003);
});

describe('AAC in MP4', () => {
  const m4a = encoded(wav, 'm4a');

  test('is told by content and measured at the places of its WAV, without the encoder’s delay', async () => {
    const { settled, summary } = await measuredAs('named.wav', m4a);
    expect(summary).toMatchObject({ fault: null, format: 'mp4', sampleRate: 44100, channels: 2 });
    expect(Math.abs(settled.grid!.tempoBpm - 110)).toBeLessThan(0.05);
    expect(Math.abs(settled.grid!.one - ONE)).toBeLessThan(0.006);
    const seconds = (wav.length - 44) / 4 / 44100;
    expect(Math.abs(summary.durationSeconds! - seconds)).toBeLessThan(0.03);
  });

  test('browsers get a listening copy of the same length, the original stays as it came', async () => {
    const { summary } = await measuredAs('a.m4a', m4a);
    const copy = await originalRange(summary.sampleId, null, true);
    expect(copy.mediaType).toBe('audio/flac');
    let frames = 0;
    await decodeAudio(opening(await joined(copy.bytes)), ([channel]) => void (frames += channel.length));
    expect(frames / 44100).toBeCloseTo(summary.durationSeconds!, 6);
    const original = await originalRange(summary.sampleId, null);
    expect(Buffer.compare(await joined(original.bytes), m4a)).toBe(0);
  });

  test('without sound, or damaged, it says so', async () => {
    const { summary } = await measuredAs('torn.m4a', m4a.slice(0, 300));
    expect(summary.fault).toMatch(/MP4 file/);
  });
});

test('an MP3 whose encoder states nothing keeps its delay, and all its audio', async () => {
  const plain = await measuredAs('plain.mp3', encoded(wav, 'mp3Plain'));
  const stated = await measuredAs('stated.mp3', encoded(wav, 'mp3'));
  expect(Math.abs(stated.settled.grid!.one - ONE)).toBeLessThan(0.006);
  const late = plain.settled.grid!.one - stated.settled.grid!.one;
  // The encoder's delay and the decoder's: 576 + 529 frames at least.
  expect(late).toBeGreaterThan(0.012);
  expect(late).toBeLessThan(0.06);
});

test('tempo and key in the tags of every container', async () => {
  const meta = [
    '-metadata',
    'TBPM=99',
    '-metadata',
    'BPM=99',
    '-metadata',
    'initialkey=Dm',
    '-metadata',
    'TKEY=Dm',
  ];
  const tagged = {
    'a.mp3': converted(...meta, '-c:a', 'libmp3lame', '-f', 'mp3'),
    'a.flac': converted(...meta, '-c:a', 'flac', '-f', 'flac'),
    'a.ogg': converted(...meta, '-c:a', 'libvorbis', '-f', 'ogg'),
  };
  for (const [name, bytes] of Object.entries(tagged)) {
    const { readings } = await measuredAs(name, bytes);
    const said = readings.filter(({ source }) => source === 'embedded tag');
    expect(said.find(({ property }) => property === 'tempo')?.value).toBe(99);
  }
  const comment = await measuredAs(
    'b.m4a',
    converted('-metadata', 'comment=played at 98.5 bpm in D minor', '-c:a', 'aac', '-f', 'mp4'),
  );
  const said = comment.readings.filter(({ source }) => source === 'embedded tag');
  expect(said.find(({ property }) => property === 'tempo')?.value).toBe(98.5);
  expect(said.find(({ property }) => property === 'key')?.value).toEqual({ tonic: 2, mode: 'minor' });
});

test('a Standard MIDI File is played, measured and kept with what it claims', async () => {
  const note = (deltaTime: number, type: 'noteOn' | 'noteOff', noteNumber: number) => ({
    deltaTime,
    type,
    channel: 0,
    noteNumber,
    velocity: 90,
  });
  const bytes = writeMidi({
    header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
    tracks: [
      [
        { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: 600_000 },
        {
          deltaTime: 0,
          meta: true,
          type: 'timeSignature',
          numerator: 3,
          denominator: 4,
          metronome: 24,
          thirtyseconds: 8,
        },
        { deltaTime: 0, meta: true, type: 'keySignature', key: -1, scale: 1 },
        ...Array.from({ length: 12 }, (_, i) => [
          note(i ? 240 : 0, 'noteOn', 60 + i),
          note(240, 'noteOff', 60 + i),
        ]).flat(),
        { deltaTime: 0, meta: true, type: 'endOfTrack' },
      ],
    ],
  } as Parameters<typeof writeMidi>[0]);
  const { summary, readings } = await measuredAs('Free playing.mid', Uint8Array.from(bytes));
  expect(summary).toMatchObject({ kind: 'midi', format: 'midi', fault: null, standing: 'measured' });
  // To the end of the last note's sound.
  const played = ((12 * 240 + 11 * 240) / 480) * 0.6;
  expect(summary.durationSeconds! - played).toBeGreaterThan(0);
  expect(summary.durationSeconds! - played).toBeLessThan(0.1);
  const value = (property: string) =>
    readings.find((one) => one.property === property && one.source === 'embedded tag')?.value;
  expect([value('tempo'), value('meter'), value('key')]).toEqual([
    100,
    { beatsPerBar: 3, beatUnit: 4 },
    { tonic: 2, mode: 'minor' },
  ]);
  // The header is one source, what is heard another.
  const heard = readings.find(({ property, source }) => property === 'tempo' && source === 'detector');
  expect(Math.abs((heard!.value as number) / 100 - 1)).toBeLessThan(0.01);
  const torn = await measuredAs('torn.mid', Uint8Array.from(bytes.slice(0, 60)));
  expect(torn.summary.fault).toMatch(/Standard MIDI File/);
});

test('the same audio in other containers is found to be the same', async () => {
  await bring('a.wav', wav);
  await bring('b.flac', encoded(wav, 'flac'));
  await bring('c.aiff', converted('-c:a', 'pcm_s16be', '-f', 'aiff'));
  const { left, right } = drums({ bpm: 110, bars: 4, one: ONE });
  // A second of lead more, and coded with loss.
  const lead = (channel: Float32Array) => Float32Array.from([...new Float32Array(44100), ...channel]);
  const { sampleId: late } = await bring(
    'd.mp3',
    encoded(encodeWave([lead(left), lead(right)], 44100, 16), 'mp3'),
  );
  await measureAll();
  const { alikePairs } = await import('@/server/likenesses');
  const pairs = (await alikePairs()).map(({ relation, samples: [a, b], offsetSeconds }) => ({
    relation,
    names: [a.name, b.name].join(' '),
    offsetSeconds,
  }));
  expect(
    pairs
      .filter(({ relation }) => relation === 'same audio')
      .map(({ names }) => names)
      .sort(),
  ).toEqual(['a.wav b.flac', 'a.wav c.aiff', 'b.flac c.aiff']);
  const recording = pairs.find(
    ({ relation, names }) => relation === 'same recording' && names === 'a.wav d.mp3',
  )!;
  expect(recording.offsetSeconds).toBeCloseTo(-1, 1);
  expect((await readEntry(late)).summary.todos).toContainEqual(
    expect.objectContaining({ code: 'alike', relation: 'same recording', name: 'a.wav' }),
  );
});
