import type { Segment } from '@/core/playing/segments';
import type { Grid } from '@/core/rhythm/grid';
import type { SoundThread } from './soundThread';

/**
 * What the audio thread is told of the open sample's time: its grid, its hits, what loops. While the clock is another's
 * (`isOurs`), it is kept and told later.
 */
export class Timeline {
  private own: { grid: Grid | null; hits: readonly number[]; segments: readonly Segment[] } = {
    grid: null,
    hits: [],
    segments: [],
  };

  constructor(
    private readonly thread: SoundThread,
    private readonly isOurs: () => boolean,
  ) {}

  get grid(): Grid | null {
    return this.own.grid;
  }

  setGrid(grid: Grid | null) {
    this.own.grid = grid;
    if (this.isOurs()) this.thread.tell({ kind: 'grid', grid });
  }

  setHits(hits: readonly number[]) {
    this.own.hits = hits;
    if (!this.isOurs()) return;
    const { rate } = this.thread;
    this.thread.tell({ kind: 'hits', hits: Float64Array.from(hits, (time) => time * rate) });
  }

  setSegments(segments: readonly Segment[]) {
    this.own.segments = segments;
    if (!this.isOurs()) return;
    const { rate } = this.thread;
    this.thread.tell({
      kind: 'legs',
      segments: segments.map((segment) => ({
        ...segment,
        start: segment.start * rate,
        end: segment.end * rate,
      })),
    });
  }

  /** Nothing of it holds while the clock is another's. */
  leave() {
    this.thread.tell({ kind: 'grid', grid: null });
    this.thread.tell({ kind: 'hits', hits: new Float64Array(0) });
  }

  /** Everything once more. */
  tellAll() {
    const { grid, hits, segments } = this.own;
    this.setGrid(grid);
    this.setHits(hits);
    this.setSegments(segments);
  }
}
