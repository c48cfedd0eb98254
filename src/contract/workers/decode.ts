import type { PeakPyramid } from '@/core/signal/peaks';

/** What the page asks of the decoding worker, and what it answers. */
export interface DecodeRequest {
  url: string;
  /** Rate that the audio is to be played at. */
  playRate: number;
  /** Its length where that is known: then it can be heard while it is still being decoded. */
  durationSeconds: number | null;
}

export type DecodeAnswer =
  /** Memory of the whole length, which fills while `progress` is told; only where memory can be shared. */
  | { kind: 'begun'; playChannels: Float32Array[] }
  /** Share of the file that was fetched, and how much of the audio is there. */
  | { kind: 'progress'; share: number; decodedSeconds: number }
  | { kind: 'failed'; message: string }
  | {
      kind: 'decoded';
      sampleRate: number;
      /** At the file's own rate, for drawing; shared memory. */
      channels: Float32Array[];
      /** At the rate of playing; the same arrays when the rates agree. Null: those of `begun`, filled. */
      playChannels: Float32Array[] | null;
      peaks: PeakPyramid;
      warnings: string[];
    };
