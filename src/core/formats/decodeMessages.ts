import type { PeakPyramid } from '../signal/peaks';

/** What the page asks of the decoding worker, and what it answers. */
export interface DecodeRequest {
  url: string;
  /** Rate that the audio is to be played at. */
  playRate: number;
}

export type DecodeAnswer =
  | { kind: 'progress'; share: number }
  | { kind: 'failed'; message: string }
  | {
      kind: 'decoded';
      sampleRate: number;
      /** At the file's own rate, for drawing; shared memory. */
      channels: Float32Array[];
      /** At the rate of playing; the same arrays when the rates agree. */
      playChannels: Float32Array[];
      peaks: PeakPyramid;
      warnings: string[];
    };
