import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseBuffer } from 'music-metadata';
import { byteReader } from '@/core/formats/byteReader';
import { decodeAudio } from '@/core/formats/decode';
import { encodeAiff } from '@/core/formats/encodeAiff';
import { readMidi } from '@/core/formats/midi';
import { listWaveChunks } from '@/core/formats/waveChunks';
import { beatTime } from '@/core/rhythm/grid';
import { recordedMidi } from '@/core/formats/midiRecording';
import { rehearsalPiano } from '@/demo/performance';
import { originalRange } from '@/server/originalRange';
import { readEntry } from '@/server/entry';
import { askArchive, sampleArchive } from '@/server/sampleArchive';
import { taggedCopy } from '@/server/taggedCopy';
import { readEmbedded } from '@/server/embeddedTags';
import { closeDatabase } from '@/store/database';
import { inBlocks, joined, sameBytes, opening } from '../support/bytes';
import { encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll, settle } from '../support/library';
import { drums } from '../support/music';
import { unzipped } from '../support/unzipped';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const wav = drumFile({ bpm: 100, bars: 4, one: 0.2 });
const stage = drums({ bpm: 100, bars: 4, one: 0.2 });

/** All samples, channel after channel: blocks may be cut elsewhere when tags move the audio. */
async function pcm(bytes: Uint8Array) {
  const channels: number[][] = [];
  const { format } = await decodeAudio(opening(bytes, 65536), (block) =>
    block.forEach((channel, c) => {
      channels[c] ??= [];
      for (const value of channel) channels[c].push(value);
    }),
  );
  return { format, samples: channels.flat() };
}

test.each([
  ['wav', wav],
  ['aiff', encodeAiff([stage.left, stage.right], 44100)],
  ['flac', encoded(wav, 'flac')],
  ['mp3', encoded(wav, 'mp3')],
  ['ogg', encoded(wav, 'ogg')],
  ['opus', encoded(wav, 'opus')],
  ['oga', encoded(wav, 'oggFlac')],
])('a tagged %s carries tempo and key, its audio untouched', async (extension, bytes) => {
  const { sampleId } = await bring(`rope.${extension}`, bytes);
  await measureAll();
  const entry = await readEntry(sampleId);
  await settle(sampleId, {
    base: entry.sequence,
    words: 'in use',
    patch: { grid: { ...entry.settled.grid!, tempoBpm: 88.402 }, key: { tonic: 6, mode: 'minor' } },
  });
  const copy = await taggedCopy(sampleId);
  expect(copy.name).toBe(`rope 88.4 bpm F#m.${extension}`);
  const out = await joined(copy.bytes);
  expect(out.length).toBe(copy.byteLength);

  const before = await pcm(bytes);
  const after = await pcm(out);
  expect(after.samples.length).toBe(before.samples.length);
  expect(after.samples.every((value, i) => value === before.samples[i])).toBe(true);

  const readings = await readEmbedded(
    (from, to) => inBlocks(out.subarray(from, to)),
    after.format,
    out.length,
    44100,
  );
  expect(readings.find(({ property }) => property === 'tempo')?.value).toBe(88.402);
  expect(readings.find(({ property }) => property === 'key')?.value).toEqual({ tonic: 6, mode: 'minor' });
  // The original stays as it was.
  expect(sameBytes(await joined((await originalRange(sampleId, null)).bytes), bytes)).toBe(true);
});

test('WAV also gets loop points and a cue at every bar, and keeps chunks that nobody knows', async () => {
  const strange = Uint8Array.from(
    [...'PuPt'].map((c) => c.charCodeAt(0)).concat([5, 0, 0, 0, 9, 8, 7, 6, 5, 0]),
  );
  const withStrange = Uint8Array.from([...wav, ...strange]);
  new DataView(withStrange.buffer).setUint32(4, withStrange.length - 8, true);
  const { sampleId } = await bring('rope.wav', withStrange);
  await measureAll();
  const out = await joined((await taggedCopy(sampleId)).bytes);
  const chunks = await listWaveChunks(byteReader(inBlocks(out)));
  expect(new DataView(out.buffer).getUint32(4, true)).toBe(out.length - 8);
  const bodyOf = (id: string) => {
    const { offset, size } = chunks.find((chunk) => chunk.id === id)!;
    return new DataView(out.buffer, offset + 8, size);
  };
  expect([...new Uint8Array(out.buffer, chunks.find(({ id }) => id === 'PuPt')!.offset + 8, 5)]).toEqual([
    9, 8, 7, 6, 5,
  ]);
  // Nothing but what was there and what was asked for.
  expect(chunks.map(({ id, listType }) => id + listType).sort()).toEqual(
    ['LISTINFO', 'LISTadtl', 'PuPt', 'cue ', 'data', 'fmt ', 'id3 ', 'smpl'].sort(),
  );
  const { grid } = (await readEntry(sampleId)).settled;
  const loop = bodyOf('smpl');
  expect(loop.getUint32(44, true)).toBe(Math.round(grid!.one * 44100));
  expect(Math.abs(loop.getUint32(48, true) + 1 - (0.2 + 9.6) * 44100)).toBeLessThan(250);
  const cue = bodyOf('cue ');
  expect(cue.getUint32(0, true)).toBe(4);
  expect(cue.getUint32(4 + 24 + 20, true)).toBe(Math.round((grid!.one + 240 / grid!.tempoBpm) * 44100));
  // Another reader agrees that this is a sound file.
  expect((await parseBuffer(out, { mimeType: 'audio/wav' })).format).toMatchObject({
    sampleRate: 44100,
    numberOfChannels: 2,
  });
});

test('loop points and cues of a WAV copy follow what is settled: half the tempo, another loop', async () => {
  const { sampleId } = await bring('rope.wav', wav);
  await measureAll();
  const { settled, sequence } = await readEntry(sampleId);
  const marks = async () => {
    const out = await joined((await taggedCopy(sampleId)).bytes);
    const chunks = await listWaveChunks(byteReader(inBlocks(out)));
    const view = (id: string) =>
      new DataView(out.buffer, chunks.find((chunk) => chunk.id === id)!.offset + 8);
    const seconds = (at: number) => view('smpl').getUint32(at, true) / 44100;
    return { cues: view('cue ').getUint32(0, true), loop: [seconds(44), seconds(48) + 1 / 44100] };
  };
  const grid = { ...settled.grid!, tempoBpm: settled.grid!.tempoBpm / 2 };
  await settle(sampleId, { base: sequence, words: 'half', patch: { grid } });
  const half = await marks();
  expect(half.cues).toBe(2);
  expect(half.loop[1] - half.loop[0]).toBeCloseTo(9.6, 2);
  const { sequence: next } = await readEntry(sampleId);
  await settle(sampleId, {
    base: next,
    words: 'loop',
    patch: { loop: { bar: 2, bars: 1, shiftSeconds: -0.01 } },
  });
  const second = await marks();
  expect(second.loop[0]).toBeCloseTo(grid.one + 4.8 - 0.01, 2);
  expect(second.loop[1] - second.loop[0]).toBeCloseTo(4.8, 2);
});

test('a MIDI performance is written on the settled grid, its playing untouched', async () => {
  const { bytes } = rehearsalPiano();
  const { sampleId } = await bring('Understudy.mid', bytes);
  await measureAll();
  const { settled } = await readEntry(sampleId);
  const copy = await taggedCopy(sampleId);
  expect(copy).toMatchObject({ mediaType: 'audio/midi' });
  expect(copy.name).toMatch(/^Understudy 8\d(\.\d+)? bpm Am\.mid$/);
  const [before, after] = [readMidi(bytes), readMidi(await joined(copy.bytes))];
  expect(after.claims).toMatchObject({
    meter: { beatsPerBar: 4, beatUnit: 4 },
    key: { tonic: 9, mode: 'minor' },
  });
  const lead = after.notes[0].time - before.notes[0].time;
  after.notes.forEach((note, i) =>
    expect(Math.abs(note.time - lead - before.notes[i].time)).toBeLessThan(0.002),
  );
  // The one stands on the second bar line: what is before it fills the first bar with silence.
  expect(lead + settled.grid!.one).toBeCloseTo(beatTime(settled.grid!, 4) - settled.grid!.one, 1);
});

test('a performance without a tempo says that it cannot be written', async () => {
  const { sampleId } = await bring(
    'One note.mid',
    recordedMidi([{ time: 0, seconds: 0.3, key: 60, velocity: 80 }]),
  );
  await measureAll();
  await expect(taggedCopy(sampleId)).rejects.toThrow(/“One note.mid” has no tempo/);
});

test('tags are no obstacle to other programs', async () => {
  const { sampleId } = await bring('rope.flac', encoded(wav, 'flac'));
  await measureAll();
  const folder = mkdtempSync(join(tmpdir(), 'grento-test-'));
  const path = join(folder, 'copy.flac');
  writeFileSync(path, await joined((await taggedCopy(sampleId)).bytes));
  // The reference decoder checks the audio's own checksum.
  execFileSync('flac', ['--test', '--silent', path]);
  rmSync(folder, { recursive: true });
});

test('ranges of the original are answered as asked', async () => {
  const { sampleId } = await bring('rope.wav', wav);
  const part = async (range: string) => {
    const { from, to, partial, bytes } = await originalRange(sampleId, range);
    return { from, to, partial, bytes: await joined(bytes) };
  };
  expect(await part('bytes=10-19')).toEqual({ from: 10, to: 20, partial: true, bytes: wav.subarray(10, 20) });
  expect((await part('bytes=-5')).bytes).toEqual(wav.subarray(-5));
  expect((await part(`bytes=${wav.length - 3}-`)).bytes).toEqual(wav.subarray(-3));
  expect((await part('lines=1-2')).partial).toBe(false);
  await expect(originalRange(sampleId, `bytes=${wav.length}-`)).rejects.toThrow(/outside/);
});

test('what is no audio cannot be tagged, and says which file', async () => {
  const { sampleId } = await bring('notes.wav', new TextEncoder().encode('cue sheet '.repeat(50)));
  await measureAll();
  await expect(taggedCopy(sampleId)).rejects.toThrow(/“notes.wav”/);
});

test('several are taken away in one archive, each under a name of its own, and what cannot be tagged says so', async () => {
  const ids = [];
  for (const [folder, bpm] of [
    ['a', 100],
    ['b', 110],
  ] as const)
    ids.push((await bring('rope.wav', drumFile({ bpm, bars: 2 }), folder)).sampleId!);
  ids.push((await bring('letter.wav', new TextEncoder().encode('Dear Wilmot, '.repeat(50)))).sampleId!);
  await measureAll();
  const parts: Uint8Array[] = [];
  const { key } = askArchive({ sampleIds: ids, as: 'tagged' });
  for await (const part of sampleArchive(key)) parts.push(part);
  const names = [...(await unzipped(Buffer.concat(parts))).keys()];
  expect(names.map((name) => name.replace(/ (100|110) bpm/, ''))).toEqual([
    'rope.wav',
    'rope.wav',
    'letter.wav',
    'What differs.txt',
  ]);
  expect(new Set(names).size).toBe(4);
  // An archive is fetched once.
  expect(() => sampleArchive(key)).toThrow('downloaded already');
});
