import type { FromFitter, ToFitter } from '@/core/recipes/jobs';
import type { Fitting } from '@/core/fit/voice';
import type { Recipe } from '@/core/recipes/recipe';
import type { Making } from '@/core/recipes/making';

/** Told of one fitting. */
export interface FittingEvents {
  onBegun: (channels: Float32Array[]) => void;
  /** So many frames of the result are made. */
  onMade: (frames: number) => void;
  /** It cannot be made; gets a sentence for the user. */
  onFault: (fault: string) => void;
}

/** The thread that fits samples: started with the first, kept for all that follow. */
export class FitThread {
  private worker: Worker | null = null;
  private readonly events = new Map<number, FittingEvents>();
  private last = 0;

  /** Begins a fitting; returns its number. `there`: how many frames of the source are decoded so far. */
  begin(source: Float32Array[], fitting: Fitting, there: number, events: FittingEvents): number {
    const id = ++this.last;
    this.events.set(id, events);
    this.tell({ kind: 'fit', id, source, fitting, there });
    return id;
  }

  /** Has a recipe followed, all of what it reads being there; returns its number. */
  make(source: Float32Array[], plan: Making, recipe: Recipe, events: FittingEvents): number {
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

  private tell(told: ToFitter) {
    this.worker ??= this.start();
    this.worker.postMessage(told);
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
        events.onFault(`It could not be fitted: ${data.message}.`);
      }
    };
    worker.onerror = (event) => {
      // The next one starts it anew.
      this.worker = null;
      const all = [...this.events.values()];
      this.events.clear();
      for (const { onFault } of all)
        onFault(`What fits samples could not be started (${event.message || 'no reason was given'}).`);
    };
    return worker;
  }
}
