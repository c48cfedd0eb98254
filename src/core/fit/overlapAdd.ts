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
      const first = goesRound ? 0 : Math.max(0, -start);
      const end = goesRound ? size : Math.min(size, room - start);
      const place = (i: number) => (goesRound ? (((start + i) % room) + room) % room : start + i);
      spectra.forEach((spectrum, c) => {
        turnInto(fft.spectrum, spectrum, turns, gains);
        const samples = fft.inverse();
        for (let i = first; i < end; i++) sums[c][place(i)] += samples[i] * window[i] * mask[i];
      });
      for (let i = first; i < end; i++) weights[place(i)] += (window[i] * mask[i]) ** 2;
    },
    finish() {
      for (const sum of sums) for (let n = 0; n < room; n++) sum[n] /= Math.max(1e-4, weights[n]);
      return sums;
    },
  };
}
