import { inBlocks } from '../../../tests/support/bytes';
import { byteReader, readerAt, readerOf } from './byteReader';
import { chunksOf } from './chunks';

const ascii = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
const little = (size: number) => [size & 255, (size >> 8) & 255, (size >> 16) & 255, size >>> 24];
const chunk = (id: string, body: number[], size = body.length) => [...ascii(id), ...little(size), ...body];

test('chunks follow each other, those of odd length with a byte between', async () => {
  const bytes = Uint8Array.from([...chunk('aaaa', [1, 2, 3]), 0, ...chunk('bbbb', [4, 5])]);
  for (const reader of [readerOf(bytes), byteReader(inBlocks(bytes, 5))]) {
    const found: unknown[] = [];
    for await (const { id, offset, size, head } of chunksOf(reader, 'little'))
      found.push([id, offset, size, ...(await head(2))]);
    expect(found).toEqual([
      ['aaaa', 0, 3, 1, 2],
      ['bbbb', 12, 2, 4, 5],
    ]);
  }
});

test('a body may be left, or read by whoever wants it from the reader itself', async () => {
  const bytes = Uint8Array.from([
    ...chunk('left', [1, 2, 3, 4]),
    ...chunk('read', [5, 6]),
    ...chunk('last', []),
  ]);
  const reader = readerOf(bytes);
  const ids: string[] = [];
  for await (const { id } of chunksOf(reader, 'little')) {
    ids.push(id);
    if (id === 'read') expect([...(await reader.read(2))]).toEqual([5, 6]);
  }
  expect(ids).toEqual(['left', 'read', 'last']);
});

test('a length that lies is not believed: the head is as short as it was asked for, and then there is no more', async () => {
  const bytes = Uint8Array.from(chunk('liar', [1, 2, 3, 4, 5, 6], 0xffffffff));
  const ids: string[] = [];
  for await (const { id, head } of chunksOf(byteReader(inBlocks(bytes)), 'little')) {
    ids.push(id);
    expect([...(await head(4))]).toEqual([1, 2, 3, 4]);
  }
  expect(ids).toEqual(['liar']);
});

test('what is skipped is not read where any part can be had', async () => {
  const size = 1e9;
  const head = Uint8Array.from(chunk('data', [], size));
  const tail = Uint8Array.from(chunk('note', [7]));
  const asked: [number, number][] = [];
  const reader = readerAt(
    async (from, to) => {
      asked.push([from, to]);
      return from === 0 ? head : tail.subarray(from - size - 8, to - size - 8);
    },
    8 + size + tail.length,
  );
  const ids: string[] = [];
  for await (const { id } of chunksOf(reader, 'little')) ids.push(id);
  expect(ids).toEqual(['data', 'note']);
  expect(asked.reduce((sum, [from, to]) => sum + to - from, 0)).toBeLessThan(40);
});

test('nobody walks along chunks without end', async () => {
  let count = 0;
  const nothing = readerAt(async () => Uint8Array.from(chunk('void', [])), Infinity);
  for await (const { size } of chunksOf(nothing, 'big')) count += 1 + size;
  expect(count).toBe(4000);
});
