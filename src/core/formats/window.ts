import type { ByteReader } from './byteReader';

const BLOCK = 64 * 1024;

/** A stretch of a file that can be looked at from any of its bytes, and that goes on when more is wanted. */
export interface ByteWindow {
  /** The bytes at hand; places in it hold until the next `drop`. */
  readonly bytes: Uint8Array;
  /** Whether at least `count` bytes are at hand, read on if need be; false: the file ends before. */
  has(count: number): Promise<boolean>;
  /** Lets go of the first `count` bytes. */
  drop(count: number): void;
}

/** Looks at the bytes of a reader; no more is held than since the last `drop`. */
export function windowOf(reader: ByteReader): ByteWindow {
  let held = new Uint8Array(2 * BLOCK);
  let from = 0;
  let to = 0;
  let ended = false;
  async function more(): Promise<boolean> {
    const next = ended ? new Uint8Array(0) : await reader.readSome(BLOCK);
    if (next.length === 0) return !(ended = true);
    if (to + next.length > held.length) {
      // To the front, and into something larger when that is not enough.
      const size = to - from + next.length;
      const roomy = size * 2 > held.length ? new Uint8Array(size * 2) : held;
      roomy.set(held.subarray(from, to));
      held = roomy;
      to -= from;
      from = 0;
    }
    held.set(next, to);
    to += next.length;
    return true;
  }
  return {
    get bytes() {
      return held.subarray(from, to);
    },
    async has(count) {
      while (to - from < count) if (!(await more())) return false;
      return true;
    },
    drop(count) {
      from += count;
    },
  };
}
