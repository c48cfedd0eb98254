import type { FromFitter, ToFitter } from '@/core/recipes/jobs';
import type { TimeStretch } from '@/core/timeStretch/voice';
import type { Recipe } from '@/core/recipes/recipe';
import type { RenderPlan } from '@/core/recipes/renderPlan';

/** Told of one fitting. */
export interface StretchEvents {
  onBegun: (channels: Float32Array[]) => void;
  /** So many frames of the result are made. */
  onMade: (frames: number) => void;
  /** It cannot be made; gets a sentence for the user. */
  onFault: (fault: string) => void;
}

/** The thread that fits samples: started with the first, kept for all that follow. */
export class FitThread {
  private worker: Worker | null = null;
  private readonly events = new Map<number, StretchEvents>();
  private last = 0;

  /** Begins a fitting; returns its number. `there`: how many frames of the source are decoded so far. */
  begin(source: Float32Array[], timeStretch: TimeStretch, there: number, events: StretchEvents): number {
    const id = ++this.last;
    this.events.set(id, events);
    this.tell({ kind: 'fit', id, source, timeStretch, there });
    return id;
  }

  /** Has a recipe followed, all of what it reads being there; returns its number. */
  make(source: Float32Array[], plan: RenderPlan, recipe: Recipe, events: StretchEvents): number {
    const id = ++this.last;
    this.events.set(id, events);
    this.tell({ kind: 'make', id, source, plan, recipe });
    return id;
  }

  sourceIsThere(id: number, frames: number) {
    if (this.events.has(id)) this.tell({ kind: 'there', id, frames });
  }

  /** It is waited for up to this frame of the result. */
  want(id: number, frames: number) {
    if (this.events.has(id)) this.tell({ kind: 'wanted', id, frames });
  }

  drop(id: number) {
    if (this.events.delete(id)) this.tell({ kind: 'drop', id });
  }

  private tell(message: ToFitter) {
    this.worker ??= this.start();
    this.worker.postMessage(message);
  }

  private start(): Worker {
    const worker = new Worker('/built/fit.worker.js', { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromFitter>) => {
      const events = this.events.get(data.id);
      if (!events) return;
      if (data.kind === 'begun') events.onBegun(data.channels);
      else if (data.kind === 'made') events.onMade(data.frames);
      else {
        this.events.delete(data.id);
        events.onFault(`It could not be stretched: ${data.message}.`);
      }
    };
    worker.onerror = (event) => {
      // The next one starts it again.
      this.worker = null;
      const all = [...this.events.values()];
      this.events.clear();
      for (const { onFault } of all)
        onFault(`The time-stretch engine could not start (${event.message || 'no reason given'}).`);
    };
    return worker;
  }
}
