import type { Progress } from '../timeStretch/progress';
import { timeStretch, type TimeStretch } from '../timeStretch/voice';
import type { Recipe } from './recipe';
import type { Made } from './compose';
import { renderPlan } from './make';
import type { RenderPlan } from './renderPlan';

/** What a thread that fits is told, and what it answers. Frames are those of one rate. */
export type ToFitter =
  /** `there`: how many frames of the source are decoded so far. */
  | { kind: 'fit'; id: number; source: Float32Array[]; timeStretch: TimeStretch; there: number }
  /** A whole recipe, followed at once: `source` is what it reads. */
  | { kind: 'make'; id: number; source: Float32Array[]; plan: RenderPlan; recipe: Recipe }
  | { kind: 'there'; id: number; frames: number }
  /** Up to which frame of the result it is waited for. */
  | { kind: 'wanted'; id: number; frames: number }
  | { kind: 'drop'; id: number };

export type FromFitter =
  /** Memory of the whole result, which fills while `made` is told. */
  | { kind: 'begun'; id: number; channels: Float32Array[] }
  | { kind: 'made'; id: number; frames: number }
  | { kind: 'failed'; id: number; message: string };

interface Job {
  id: number;
  channels: Float32Array[];
  steps: Iterator<Progress, void, void>;
  length: number;
  made: number;
  needs: number;
  there: number;
  wanted: number;
}

/** What is made so far ahead of where it is heard rests until it is wanted, frames: half a minute. */
const AHEAD = 30 * 44_100;

/** Several samples that are fitted in one thread: the one that is nearest to being missed goes on, step by step. */
export class StretchJobs {
  private readonly jobs = new Map<number, Job>();

  constructor(
    private readonly answer: (answer: FromFitter) => void,
    private readonly memory: (frames: number) => Float32Array,
    /** Others can read that memory while it is written; otherwise it is handed over when it is full. */
    private readonly isShared: boolean,
  ) {}

  tell(told: ToFitter) {
    if (told.kind === 'fit' || told.kind === 'make') return this.begin(told);
    const job = this.jobs.get(told.id);
    if (!job) return;
    if (told.kind === 'drop') this.jobs.delete(told.id);
    else job[told.kind] = Math.max(job[told.kind], told.frames);
  }

  private begin(told: Extract<ToFitter, { kind: 'fit' | 'make' }>) {
    const { id, source } = told;
    try {
      const length = told.kind === 'fit' ? told.timeStretch.length : told.plan.length;
      const channels = source.map(() => this.memory(length));
      const steps =
        told.kind === 'fit'
          ? timeStretch(source, told.timeStretch, channels)
          : intoMemory(renderPlan(source, told.plan, told.recipe), channels);
      const there = told.kind === 'fit' ? told.there : Infinity;
      const job = { id, steps, channels, length, made: 0, needs: 0, there, wanted: 0 };
      this.jobs.set(id, job);
      if (this.isShared) this.answer({ kind: 'begun', id, channels });
      this.step(job);
    } catch (error) {
      this.fail(id, error);
    }
  }

  private fail(id: number, error: unknown) {
    this.jobs.delete(id);
    this.answer({ kind: 'failed', id, message: error instanceof Error ? error.message : String(error) });
  }

  /** Makes one step of what is most pressing; false when nothing can be done until something is told. */
  work(): boolean {
    const ready = [...this.jobs.values()].filter(
      ({ needs, there, made, wanted }) => needs <= there && (!this.isShared || made - wanted < AHEAD),
    );
    if (ready.length === 0) return false;
    const next = ready.reduce((a, b) => (b.made - b.wanted < a.made - a.wanted ? b : a));
    this.step(next);
    return true;
  }

  private step(job: Job) {
    try {
      const { value } = job.steps.next();
      const before = job.made;
      job.made = value ? value.made : job.length;
      if (value) job.needs = value.needs;
      else this.jobs.delete(job.id);
      if (!this.isShared && value) return;
      if (!this.isShared) this.answer({ kind: 'begun', id: job.id, channels: job.channels });
      if (job.made > before) this.answer({ kind: 'made', id: job.id, frames: job.made });
    } catch (error) {
      this.fail(job.id, error);
    }
  }
}

/** Follows a recipe; what it comes to is there all at once, at its end. */
function* intoMemory(
  steps: Generator<Progress, Made, void>,
  channels: readonly Float32Array[],
): Generator<Progress, void, void> {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return (value as Made).channels.forEach((channel, c) => channels[c].set(channel));
    yield { made: 0, needs: 0 };
  }
}
