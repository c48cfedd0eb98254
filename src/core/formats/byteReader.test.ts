import { byteReader } from './byteReader';

/** Bytes 0, 1, 2 … in blocks of the given lengths; tells how many blocks were asked for. */
function source(...lengths: number[]) {
  const asked = { blocks: 0 };
  async function* blocks() {
    let next = 0;
    for (const length of lengths) {
      asked.blocks++;
      yield Uint8Array.from({ length }, () => next++ % 256);
    }
  }
  return { reader: byteReader(blocks()), asked };
}

test('reads exactly as many as are wanted, over the edges of blocks', async () => {
  const { reader } = source(3, 1, 5);
  expect([...(await reader.read(2))]).toEqual([0, 1]);
  expect([...(await reader.read(4))]).toEqual([2, 3, 4, 5]);
  expect(reader.position).toBe(6);
});

test('at the end it gives what is left, then nothing', async () => {
  const { reader } = source(4);
  expect([...(await reader.read(10))]).toEqual([0, 1, 2, 3]);
  expect(await reader.read(10)).toHaveLength(0);
  expect(await reader.readSome(10)).toHaveLength(0);
  expect(reader.position).toBe(4);
});

test('what is at hand is given without waiting for more', async () => {
  const { reader, asked } = source(4, 4, 4);
  expect([...(await reader.readSome(100))]).toEqual([0, 1, 2, 3]);
  expect(asked.blocks).toBe(1);
  expect([...(await reader.readSome(2))]).toEqual([4, 5]);
  expect([...(await reader.readSome(100))]).toEqual([6, 7]);
});

test('peeking takes nothing out', async () => {
  const { reader } = source(2, 2, 2);
  expect([...(await reader.peek(3))]).toEqual([0, 1, 2]);
  expect(reader.position).toBe(0);
  expect([...(await reader.read(3))]).toEqual([0, 1, 2]);
  expect([...(await reader.peek(100))]).toEqual([3, 4, 5]);
});

test('skipping lets bytes go, and past the end does no harm', async () => {
  const { reader } = source(300, 300);
  await reader.skip(299);
  expect([...(await reader.read(2))]).toEqual([299 % 256, 300 % 256]);
  await reader.skip(10_000);
  expect(reader.position).toBe(600);
  expect(await reader.read(1)).toHaveLength(0);
});

test('empty blocks are passed over', async () => {
  const { reader } = source(0, 2, 0, 0, 1);
  expect([...(await reader.readSome(9))]).toEqual([0, 1]);
  expect([...(await reader.readSome(9))]).toEqual([2]);
});

test('what goes wrong in the source reaches the reader', async () => {
  async function* broken() {
    yield Uint8Array.of(1, 2);
    throw new Error('the drive went away');
  }
  const reader = byteReader(broken());
  expect(await reader.read(2)).toHaveLength(2);
  await expect(reader.read(1)).rejects.toThrow('the drive went away');
});

test('a long read of many small blocks puts them together once', async () => {
  const size = 64;
  async function* small() {
    for (let i = 0; i < 40_000; i++) yield new Uint8Array(size).fill(i % 251);
  }
  let copied = 0;
  const set = Uint8Array.prototype.set;
  Uint8Array.prototype.set = function (from, at) {
    copied += from.length;
    return set.call(this, from, at);
  };
  try {
    const reader = byteReader(small());
    expect([...(await reader.peek(3))]).toEqual([0, 0, 0]);
    const bytes = await reader.read(size * 39_999);
    expect(bytes).toHaveLength(size * 39_999);
    expect(bytes[size * 300]).toBe(300 % 251);
    expect(await reader.read(size * 10)).toHaveLength(size);
    expect(copied).toBeLessThan(1.1 * size * 40_000);
  } finally {
    Uint8Array.prototype.set = set;
  }
});
