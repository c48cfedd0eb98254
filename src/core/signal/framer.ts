/** Cuts a stream into overlapping frames; frame i is centred on sample i · hop, silence stands outside. */
export interface Framer {
  push(block: Float32Array): void;
  /** Hands out the last frames; returns how many there were. */
  finish(): number;
}

/**
 * `hop` may be a fraction of a sample. `onFrame` gets an array in which the frame's `size` samples begin at
 * `from`; both are only good during the call. Holds about one frame and one block.
 */
export function createFramer(
  size: number,
  hop: number,
  onFrame: (samples: Float32Array, from: number, index: number) => void,
): Framer {
  const half = size / 2;
  let kept = new Float32Array(size * 4);
  /** Stream index of kept[0] and of the sample after the last one. */
  let start = -half;
  let end = 0;
  let index = 0;

  const emit = (until: number) => {
    for (;;) {
      const from = Math.round(index * hop) - half;
      if (from + size > until) break;
      onFrame(kept, from - start, index++);
    }
  };
  const append = (block: Float32Array) => {
    const nextFrom = Math.min(Math.round(index * hop) - half, end);
    const held = end - nextFrom;
    if (held + block.length > kept.length) {
      const larger = new Float32Array(2 * (held + block.length));
      larger.set(kept.subarray(nextFrom - start, end - start));
      kept = larger;
    } else kept.copyWithin(0, nextFrom - start, end - start);
    kept.set(block, held);
    start = nextFrom;
    end += block.length;
  };
  return {
    push(block) {
      append(block);
      emit(end);
    },
    finish() {
      const total = end;
      append(new Float32Array(size));
      // Frames whose centre lies within the stream.
      while (Math.round(index * hop) <= total && index <= total / hop) {
        onFrame(kept, Math.round(index * hop) - half - start, index++);
      }
      return index;
    },
  };
}
