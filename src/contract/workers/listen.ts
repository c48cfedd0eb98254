import type { MeasureOptions } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';

/** A stretch of decoded audio to be measured; `from` is where it begins in the file, seconds. */
export interface ListenRequest {
  channels: Float32Array[];
  sampleRate: number;
  from: number;
  options: MeasureOptions;
}

export type ListenAnswer =
  { kind: 'measured'; measurement: Measurement } | { kind: 'failed'; message: string };
