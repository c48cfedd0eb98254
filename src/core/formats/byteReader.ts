/** The bytes of a file from its beginning on; asked for again, from its beginning once more. */
export type OpenBytes = () => AsyncIterable<Uint8Array>;

/** Reads bytes `from` (inclusive) to `to` (exclusive); fewer at the end. */
export type ReadAt = (from: number, to: number) => Promise<Uint8Array>;

/** Reads the bytes of a file in their order, holding no more than it must. */
export interface ByteReader {
  /** Bytes taken out so far. */
  readonly position: number;
  /** Exactly `count` bytes, or fewer when the file ends before. */
  read(count: number): Promise<Uint8Array>;
  /** What is at hand, at most `limit` bytes, at least one unless the file has ended. */
  readSome(limit: number): Promise<Uint8Array>;
  /** Passes over bytes; past the end it stays there. */
  skip(count: number): Promise<void>;
  /** The next `count` bytes (or fewer at the end) without taking them out. */
  peek(count: number): Promise<Uint8Array>;
  /** Lets go of what the bytes come from; for whoever does not read to the end. */
  close(): Promise<void>;
}

/** Reads a stream of blocks. */
export function byteReader(source: AsyncIterable<Uint8Array>): ByteReader {
  const iterator = source[Symbol.asyncIterator]();
  let blocks: Uint8Array[] = [];
  /** Bytes in `blocks`. */
  let held = 0;
  let position = 0;
  let ended = false;

  async function more(): Promise<boolean> {
    if (ended) return false;
    const { value, done } = await iterator.next();
    if (done) {
      ended = true;
      return false;
    }
    if (value.length > 0) blocks.push(value);
    held += value.length;
    return true;
  }

  /** Puts the blocks that hold the next `count` bytes together: once, however many they are. */
  function gather(count: number): Uint8Array {
    if ((blocks[0]?.length ?? 0) >= Math.min(count, held)) return blocks[0] ?? new Uint8Array(0);
    let length = 0;
    let needed = 0;
    while (length < count && needed < blocks.length) length += blocks[needed++].length;
    const joined = new Uint8Array(length);
    let at = 0;
    for (const block of blocks.slice(0, needed)) {
      joined.set(block, at);
      at += block.length;
    }
    blocks = [joined, ...blocks.slice(needed)];
    return joined;
  }

  function take(count: number): Uint8Array {
    const first = gather(count);
    const taken = first.subarray(0, count);
    if (taken.length === first.length) blocks.shift();
    else blocks[0] = first.subarray(taken.length);
    held -= taken.length;
    position += taken.length;
    return taken;
  }

  return {
    get position() {
      return position;
    },
    async read(count) {
      while (held < count && (await more()));
      return take(count);
    },
    async readSome(limit) {
      while (held === 0 && (await more()));
      return take(Math.min(limit, blocks[0]?.length ?? 0));
    },
    async skip(count) {
      let left = count;
      while (left > 0) {
        if (held === 0 && !(await more())) return;
        left -= take(Math.min(left, blocks[0]?.length ?? 0)).length;
      }
    },
    async peek(count) {
      while (held < count && (await more()));
      return gather(count).subarray(0, count);
    },
    async close() {
      ended = true;
      await iterator.return?.();
    },
  };
}

/** Reads a file of which any part can be had: what is skipped is not read. */
export function readerAt(readAt: ReadAt, byteLength: number): ByteReader {
  let position = 0;
  const peek = (count: number) => readAt(position, Math.min(byteLength, position + count));
  const read = async (count: number) => {
    const bytes = await peek(count);
    position += bytes.length;
    return bytes;
  };
  return {
    get position() {
      return position;
    },
    read,
    readSome: read,
    skip: async (count) => {
      position = Math.min(byteLength, position + count);
    },
    peek,
    close: async () => {},
  };
}

/** Reads bytes that are in memory. */
export const readerOf = (bytes: Uint8Array): ByteReader =>
  readerAt(async (from, to) => bytes.subarray(from, to), bytes.length);
