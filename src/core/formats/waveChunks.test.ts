import { inBlocks } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { encodeWave } from './encodeWave';
import { chunkBytes, cueChunks, isMarkerChunk, listWaveChunks, samplerChunk, waveHeader } from './waveChunks';

test('the sampler chunk holds one forward loop whose end is inclusive', () => {
  const { id, body } = samplerChunk(4410, 88200, 44100, 57, 25);
  const view = new DataView(body.buffer);
  expect(id).toBe('smpl');
  expect(view.getUint32(8, true)).toBe(22676);
  expect(view.getUint32(12, true)).toBe(57);
  expect(view.getUint32(16, true)).toBe(2 ** 30);
  expect(view.getUint32(28, true)).toBe(1);
  expect([view.getUint32(44, true), view.getUint32(48, true)]).toEqual([4410, 88199]);
});

test('cues carry their frames, and labels of odd length are padded', () => {
  const [cue, list] = cueChunks([
    { frame: 0, label: 'Bar 1' },
    { frame: 52920, label: 'Bar 10' },
  ]);
  const view = new DataView(cue.body.buffer);
  expect(view.getUint32(0, true)).toBe(2);
  expect(view.getUint32(4 + 24 + 20, true)).toBe(52920);
  expect(isMarkerChunk({ id: list.id, listType: String.fromCharCode(...list.body.subarray(0, 4)) })).toBe(
    true,
  );
  expect(list.body.length % 2).toBe(0);
});

test('chunks are listed in order, and a file put together from them is a file', async () => {
  const plain = encodeWave([new Float32Array(101)], 44100, 24);
  const chunks = await listWaveChunks(byteReader(inBlocks(plain, 7)));
  expect(chunks).toEqual([
    { id: 'fmt ', listType: '', offset: 12, size: 16 },
    { id: 'data', listType: '', offset: 36, size: 303 },
  ]);
  const extra = chunkBytes({ id: 'note', body: Uint8Array.from([1, 2, 3]) });
  const rest = plain.subarray(12);
  const file = Uint8Array.from([...waveHeader(rest.length + extra.length), ...rest, ...extra]);
  expect(new DataView(file.buffer).getUint32(4, true)).toBe(file.length - 8);
  expect((await listWaveChunks(byteReader(inBlocks(file)))).map(({ id }) => id)).toEqual([
    'fmt ',
    'data',
    'note',
  ]);
});

test('other files are refused', async () => {
  await expect(listWaveChunks(byteReader(inBlocks(new Uint8Array(50))))).rejects.toThrow(RangeError);
});
