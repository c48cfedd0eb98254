/** A Float32Array that grows by doubling while blocks are appended. */
export interface GrowingArray {
  append(block: Float32Array): void;
  readonly length: number;
  /** The values so far, as a view that the next append may leave behind. */
  view(): Float32Array;
  /** The memory that they are kept in, with what is still empty. */
  whole(): Float32Array;
}

/** `expectedLength` saves copies when the final length is known; `memory` makes what the values are kept in. */
export function growingArray(
  expectedLength = 0,
  memory: (length: number) => Float32Array = (length) => new Float32Array(length),
): GrowingArray {
  let store = memory(expectedLength || 1024);
  let length = 0;
  return {
    append(block) {
      if (length + block.length > store.length) {
        const larger = memory(Math.max(length + block.length, Math.ceil(store.length * 1.5)));
        larger.set(store.subarray(0, length));
        store = larger;
      }
      store.set(block, length);
      length += block.length;
    },
    get length() {
      return length;
    },
    view: () => store.subarray(0, length),
    whole: () => store,
  };
}
