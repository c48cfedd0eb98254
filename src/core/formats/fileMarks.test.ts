import { readMarks } from '../readings/tagReading';
import { encodeAiff } from './encodeAiff';
import { encodeWave } from './encodeWave';
import type { ReadAt } from './byteReader';
import { readAiffMarks, readWaveMarks } from './fileMarks';
import { chunkBytes, cueChunks, samplerChunk } from './waveChunks';

const at =
  (bytes: Uint8Array): ReadAt =>
  (from, to) =>
    Promise.resolve(bytes.subarray(from, to));
const joined = (...parts: Uint8Array[]) => Uint8Array.from(Buffer.concat(parts));
const text = (words: string) => new TextEncoder().encode(words);

const info = (id: string, words: string) => {
  const inner = chunkBytes({ id, body: text(`${words}\0`) });
  return chunkBytes({ id: 'LIST', body: joined(text('INFO'), inner) });
};

test('cues, loop, description and texts of a WAV file', async () => {
  const bext = new Uint8Array(602);
  bext.set(text('Recorded by Wilmot, 96,5 bpm'));
  const bytes = joined(
    encodeWave([new Float32Array(4000)], 8000, 16),
    chunkBytes({ id: 'bext', body: bext }),
    ...cueChunks([
      { frame: 100, label: 'breath' },
      { frame: 800, label: 'the one' },
    ]).map(chunkBytes),
    chunkBytes(samplerChunk(400, 3600, 8000)),
    info('ICMT', 'in F# minor, for the second act'),
  );
  const marks = await readWaveMarks(at(bytes), bytes.length);
  expect(marks.cues).toEqual([
    { frame: 100, label: 'breath' },
    { frame: 800, label: 'the one' },
  ]);
  expect(marks.loop).toEqual({ start: 400, end: 3600 });
  const readings = readMarks(marks, 8000);
  expect(readings).toEqual([
    expect.objectContaining({ property: 'one', value: 0.1, detail: 'cue “the one”' }),
    expect.objectContaining({ property: 'tempo', value: 96.5 }),
    expect.objectContaining({ property: 'key', value: { tonic: 6, mode: 'minor' } }),
  ]);
});

test('markers, sustain loop and annotation of an AIFF file', async () => {
  const big = (id: string, body: Uint8Array) => {
    const bytes = new Uint8Array(8 + body.length + (body.length % 2));
    bytes.set(text(id));
    new DataView(bytes.buffer).setUint32(4, body.length);
    bytes.set(body, 8);
    return bytes;
  };
  const mark = Uint8Array.from([0, 2, 0, 1, 0, 0, 1, 0, 3, 65, 66, 67, 0, 2, 0, 0, 15, 160, 0, 0]);
  const instrument = new Uint8Array(20);
  instrument.set([0, 1, 0, 1, 0, 2], 8);
  const bytes = joined(
    encodeAiff([new Float32Array(5000)], 8000, 16),
    big('MARK', mark),
    big('INST', instrument),
    big('ANNO', text('tempo: 104')),
  );
  const marks = await readAiffMarks(at(bytes), bytes.length);
  expect(marks.cues).toEqual([
    { frame: 256, label: 'ABC' },
    { frame: 4000, label: '' },
  ]);
  expect(marks.loop).toEqual({ start: 256, end: 4000 });
  expect(readMarks(marks, 8000)).toEqual([
    expect.objectContaining({ property: 'one', value: 0.032 }),
    expect.objectContaining({ property: 'tempo', value: 104 }),
  ]);
});

test('chunks that lie about their length end the search, nothing else', async () => {
  const bytes = joined(
    encodeWave([new Float32Array(100)], 8000, 16),
    text('smpl'),
    Uint8Array.from([255, 255, 255, 127]),
  );
  expect(await readWaveMarks(at(bytes), bytes.length)).toEqual({ cues: [], loop: null, texts: [] });
  const short = joined(
    encodeWave([new Float32Array(100)], 8000, 16),
    chunkBytes({ id: 'cue ', body: Uint8Array.from([9, 0, 0, 0, 1]) }),
  );
  expect((await readWaveMarks(at(short), short.length)).cues).toEqual([]);
});
