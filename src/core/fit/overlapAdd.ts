import { realFft } from '../signal/fft';
import { windowOf } from './ear';
import { turnInto, type Turns } from './turns';

/** Frames that are laid over each other under Hann windows, and weighed by how much of each was heard. */
export interface OverlapAdd {
  /**
   * Lays a frame about a place: the spectrum of each channel, as it was heard under a Hann window and `mask`, turned and
   * multiplied bin by bin (`gains`; null: not).
   */
  lay(
    at: number,
    spectra: readonly Float32Array[],
    mask: Float32Array,
    turns: Turns,
    gains: Float32Array | null,
  ): void;
  /** What was laid, each sample by its weight. */
  finish(): Float32Array[];
}

/** `goesRound`: what hangs over one end is laid at the other. */
export function overlapAdd(room: number, channels: number, goesRound: boolean): OverlapAdd {
  const sums = Array.from({ length: channels }, () => new Float32Array(room));
  const weights = new Float32Array(room);
  return {
    lay(at, spectra, mask, turns, gains) {
      const size = mask.length;
      const fft = realFft(size);
      const window = windowOf(size);
      const start = at - size / 2;
      const [first, end] = [Math.max(0, -start), Math.min(size, room - start)];
      // Where it turns, and where it does not.
      const parts = goesRound ? turned(start, size, room) : [{ from: first, to: end, by: start }];
      spectra.forEach((spectrum, c) => {
        turnInto(fft.spectrum, spectrum, turns, gains);
        const samples = fft.inverse();
        const sum = sums[c];
        for (const { from, to, by } of parts)
          for (let i = from; i < to; i++) sum[by + i] += samples[i] * window[i] * mask[i];
      });
      for (const { from, to, by } of parts)
        for (let i = from; i < to; i++) weights[by + i] += (window[i] * mask[i]) ** 2;
    },
    finish() {
      for (const sum of sums) for (let n = 0; n < room; n++) sum[n] /= Math.max(1e-4, weights[n]);
      return sums;
    },
  };
}

/** The pieces of a frame between the turns of what goes round, and by how much each is moved. */
function turned(start: number, size: number, room: number): { from: number; to: number; by: number }[] {
  const parts = [];
  for (let from = 0; from < size;) {
    const by = start - Math.floor((start + from) / room) * room;
    const to = Math.min(size, room - by);
    parts.push({ from, to, by });
    from = to;
  }
  return parts;
}
