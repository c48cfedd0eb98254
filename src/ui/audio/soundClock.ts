import type { FromEngine } from '@/contract/workers/engine';
import { alongSegments, type Segment } from '@/core/playing/segments';
import type { SoundThread } from './soundThread';

/** The clock of the audio thread as far as the page knows it: what it reported last, and where it must be since. */
export class SoundClock {
  private run = 0;
  private last: FromEngine = { run: 0, position: 0, time: 0, playing: false };

  constructor(private readonly thread: SoundThread) {}

  /** Lets it go from a frame on; nothing is heard before `audibleFrom`. What it reports of earlier starts counts no more. */
  start(position: number, audibleFrom = -Infinity) {
    const run = ++this.run;
    this.last = { run, position, time: this.thread.context.currentTime, playing: true };
    this.thread.tell({ kind: 'start', run, position, audibleFrom });
  }

  /** Takes a report; false where it is of an earlier start. */
  hear(report: FromEngine): boolean {
    if (report.run !== this.run) return false;
    this.last = report;
    return true;
  }

  /** The frame that the audio thread is at, no later than is true. */
  renderedFrame(speed: number): number {
    const { position, time } = this.last;
    return position + Math.max(0, this.thread.context.currentTime - time) * this.thread.rate * speed;
  }

  /** How long after it is rendered a frame is heard, seconds. */
  latency(extra: number): number {
    const { context } = this.thread;
    return (context.outputLatency || context.baseLatency || 0) + extra;
  }

  /** The time that is heard now, seconds: since the report the turn of a leg may have been passed. */
  heardTime(segments: readonly Segment[], speed: number, latency: number): number {
    const { context, rate } = this.thread;
    return alongSegments(
      segments,
      this.last.position / rate,
      (context.currentTime - this.last.time - latency) * speed,
    );
  }
}
