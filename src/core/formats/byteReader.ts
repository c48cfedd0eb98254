/** Reads a stream of byte blocks in the order of the bytes, holding no more than it must. */
export interface ByteReader {
  /** Bytes taken out so far. */
  readonly position: number;
  /** Exactly `count` bytes, or fewer when the stream ends before. */
  read(count: number): Promise<Uint8Array>;
  /** What is at hand, at most `limit` bytes, at least one unless the stream has ended. */
  readSome(limit: number): Promise<Uint8Array>;
  skip(count: number): Promise<void>;
  /** The next `count` bytes (or fewer at the end) without taking them out. */
  peek(count: number): Promise<Uint8Array>;
}

export function byteReader(source: AsyncIterable<Uint8Array>): ByteReader {
  const iterator = source[Symbol.asyncIterator]();
  let held: Uint8Array = new Uint8Array(0);
  let position = 0;
  let ended = false;

  async function more(): Promise<boolean> {
    if (ended) return false;
    const { value, done } = await iterator.next();
    if (done) {
      ended = true;
      return false;
    }
    if (held.length === 0) held = value;
    else {
      const joined = new Uint8Array(held.length + value.length);
      joined.set(held);
      joined.set(value, held.length);
      held = joined;
    }
    return true;
  }

  function take(count: number): Uint8Array {
    const taken = held.subarray(0, count);
    held = held.subarray(taken.length);
    position += taken.length;
    return taken;
  }

  return {
    get position() {
      return position;
    },
    async read(count) {
      while (held.length < count && (await more()));
      return take(count);
    },
    async readSome(limit) {
      while (held.length === 0 && (await more()));
      return take(limit);
    },
    async skip(count) {
      let left = count;
      while (left > 0) {
        if (held.length === 0 && !(await more())) return;
        left -= take(left).length;
      }
    },
    async peek(count) {
      while (held.length < count && (await more()));
      return held.subarray(0, count);
    },
  };
}
