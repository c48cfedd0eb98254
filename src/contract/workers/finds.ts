import type { Grid } from '@/core/rhythm/grid';
import type { Onset } from '@/core/rhythm/onsets';
import type { Traces } from '@/core/traces/traces';
import type { Finds } from '@/core/recipes/finds';

/** What the page asks of the worker that looks for what loops, and what it answers. */
export interface FindsRequest {
  audio: { channels: readonly Float32Array[]; sampleRate: number; durationSeconds: number };
  traces: Pick<Traces, 'strength' | 'chords'>;
  onsets: readonly Onset[];
  grid: Grid | null;
}

export type FindsAnswer = { kind: 'found'; finds: Finds } | { kind: 'failed'; message: string };
