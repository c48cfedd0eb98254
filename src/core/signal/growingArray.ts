/** A Float32Array that grows by doubling while blocks are appended. */
export interface GrowingArray {
  append(block: Float32Array): void;
  readonly length: number;
  /** The values so far, as a view that the next append may leave behind. */
  view(): Float32Array;
}

/** `expectedLength` saves copies when the final length is known. */
export function growingArray(expectedLength = 0): GrowingArray {
  let store = new Float32Array(Math.max(1024, expectedLength));
  let length = 0;
  return {
    append(block) {
      if (length + block.length > store.length) {
        const larger = new Float32Array(Math.max(length + block.length, Math.ceil(store.length * 1.5)));
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
  };
}
