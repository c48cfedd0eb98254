import type { Progress } from './progress';
import { fitting, type Fitting } from './voice';

/** What a thread that fits is told, and what it answers. Frames are those of one rate. */
export type ToFitter =
  /** `there`: how many frames of the source are decoded so far. */
  | { kind: 'fit'; id: number; source: Float32Array[]; fitting: Fitting; there: number }
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
export class FittingJobs {
  private readonly jobs = new Map<number, Job>();

  constructor(
    private readonly answer: (answer: FromFitter) => void,
    private readonly memory: (frames: number) => Float32Array,
    /** Others can read that memory while it is written; otherwise it is handed over when it is full. */
    private readonly isShared: boolean,
  ) {}

  tell(told: ToFitter) {
    if (told.kind === 'fit') return this.begin(told);
    const job = this.jobs.get(told.id);
    if (!job) return;
    if (told.kind === 'drop') this.jobs.delete(told.id);
    else job[told.kind] = Math.max(job[told.kind], told.frames);
  }

  private begin({ id, source, fitting: wanted, there }: Extract<ToFitter, { kind: 'fit' }>) {
    try {
      const channels = source.map(() => this.memory(wanted.length));
      const steps = fitting(source, wanted, channels);
      const job = { id, steps, channels, length: wanted.length, made: 0, needs: 0, there, wanted: 0 };
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
