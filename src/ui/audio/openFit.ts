import { timeStretchOf, type Plan } from '@/core/timeStretch/plan';
import type { TimeStretch } from '@/core/timeStretch/voice';
import type { Recipe } from '@/core/recipes/recipe';
import { readOf } from '@/core/recipes/compose';
import { renderPlanOf } from '@/core/recipes/renderPlan';
import type { StretchEvents, FitThread } from './fitThread';
import type { OpenSample } from './openSample';
import type { SampleCache } from './sampleCache';
import { SoundCache, type Held } from './soundCache';

/** A sample that is to sound by a plan. */
export interface Aimed {
  sampleId: string;
  durationSeconds: number | null;
  plan: Plan;
  /** It is what this recipe makes of it, and not by the plan alone. */
  recipe?: Recipe;
}

/** Samples this long are fitted before they are asked for, seconds. */
export const PREPARED_UP_TO = 60;
/** So much of what is heard is made before it begins, seconds. */
const SPARE_SECONDS = 0.1;
/** Of the speed at which it is made so much is counted on: others want to be made as well. */
const SURE_SHARE = 0.6;

/** One sample fitted by a plan: it can be heard while the rest of it is still being made. */
export class OpenFit implements Held {
  /** All of its memory, filled from the beginning. */
  channels: Float32Array[] | null = null;
  /** Frames that are made. */
  made = 0;
  length = Infinity;
  fault: string | null = null;
  private readonly sample: OpenSample;
  private readonly stopListening: () => void;
  private job: number | null = null;
  private first = 0;
  private source: Float32Array[] | null = null;
  private waiting: { frames: number; isEnough: () => boolean; tell: (isThere: boolean) => void }[] = [];
  /** When making it began, ms, or could have. */
  private begunAt = 0;

  constructor(
    readonly name: string,
    { sampleId, durationSeconds, plan, recipe }: Aimed,
    private readonly samples: SampleCache,
    private readonly thread: FitThread,
    private readonly rate: number,
  ) {
    this.sample = samples.take(sampleId, durationSeconds);
    this.stopListening = this.sample.listen({
      onPlayable: (channels) => (recipe ? void this.make(recipe, rate) : this.begin(channels, plan, rate)),
      onMore: () => {
        if (this.job !== null) {
          // While nothing is made it may be the source that is waited for, and says nothing of how fast it goes.
          if (this.made === 0) this.begunAt = performance.now();
          this.thread.sourceIsThere(this.job, this.there());
        } else if (this.channels !== null && this.channels === this.source) this.moreIsMade(this.there());
      },
      onFault: (fault) => this.fail(fault),
    });
  }

  get bytes(): number {
    if (this.channels === this.source) return 0;
    return (this.channels ?? []).reduce((sum, { byteLength }) => sum + byteLength, 0);
  }

  get isWhole(): boolean {
    return this.made >= this.length;
  }

  /** Resolves to true when so many frames are made, or all; to false when it was closed before or cannot be made. */
  until(frames: number): Promise<boolean> {
    return this.waitFor(frames, () => this.made >= Math.min(frames, this.length));
  }

  /** The same, when it can be heard from a frame on without running out, as fast as it is being made. */
  untilPlayable(frame: number): Promise<boolean> {
    return this.waitFor(frame + SPARE_SECONDS * this.rate, () => this.isPlayable(frame));
  }

  /** Whether what is heard from a frame on will always have been made by then. */
  isPlayable(frame: number): boolean {
    if (this.isWhole) return true;
    const lead = (this.made - frame) / this.rate;
    const rest = (this.length - this.made) / this.rate;
    if (lead < SPARE_SECONDS) return false;
    const speed = this.made / this.rate / Math.max(1e-3, (performance.now() - this.begunAt) / 1000);
    return rest <= SURE_SHARE * speed * (lead + rest);
  }

  private waitFor(frames: number, isEnough: () => boolean): Promise<boolean> {
    if (this.fault !== null) return Promise.resolve(false);
    this.want(frames);
    if (isEnough()) return Promise.resolve(true);
    return new Promise((tell) => this.waiting.push({ frames, isEnough, tell }));
  }

  /** It is going to be heard up to this frame. */
  want(frames: number) {
    if (this.job !== null) this.thread.want(this.job, frames);
  }

  close() {
    this.stopListening();
    if (this.job !== null) this.thread.drop(this.job);
    this.samples.giveBack(this.sample);
    this.answer(() => false);
  }

  private begin(channels: Float32Array[], plan: Plan, rate: number) {
    // It comes again where the sample's length was not what it was said to be.
    if (this.job !== null) this.thread.drop(this.job);
    const { first, size, timeStretch } = timeStretchOf(plan, rate, channels[0].length);
    this.first = first;
    this.begunAt = performance.now();
    this.made = 0;
    this.length = timeStretch.length;
    this.source = channels.map((channel) => channel.subarray(first, first + size));
    if (isUnbent(timeStretch, size)) {
      // What is not bent is the sample itself: neither time nor memory goes into it.
      this.job = null;
      this.channels = this.source;
      return this.moreIsMade(this.there());
    }
    this.job = this.thread.begin(this.source, timeStretch, this.there(), this.events());
    for (const { frames } of this.waiting) this.thread.want(this.job, frames);
  }

  /** What a recipe makes of it: there all at once, when all of the sample is decoded. */
  private async make(recipe: Recipe, rate: number) {
    if (!(await this.sample.whole) || !this.sample.channels) return;
    const { channels } = this.sample;
    try {
      const plan = renderPlanOf(recipe, Math.round(recipe.parent.durationSeconds * rate), rate);
      if (this.job !== null) this.thread.drop(this.job);
      this.length = plan.length;
      this.job = this.thread.make(readOf(channels, plan), plan, recipe, this.events());
    } catch (error) {
      this.fail((error as Error).message);
    }
  }

  private events(): StretchEvents {
    return {
      onBegun: (made) => (this.channels = made),
      onMade: (frames) => this.moreIsMade(frames),
      onFault: (fault) => this.fail(fault),
    };
  }

  private moreIsMade(frames: number) {
    this.made = frames;
    this.answer(({ isEnough }) => (isEnough() ? true : null));
  }

  /** Frames of what is read of the sample that are decoded. */
  private there(): number {
    const size = this.source?.[0].length ?? 0;
    return Math.max(0, Math.min(size, this.sample.decodedFrames - this.first));
  }

  private fail(fault: string) {
    this.fault = fault;
    this.answer(() => false);
  }

  private answer(say: (waiting: { isEnough: () => boolean }) => boolean | null) {
    const waiting = this.waiting.map((one) => ({ ...one, said: say(one) }));
    this.waiting = waiting.filter(({ said }) => said === null);
    for (const { said, tell } of waiting) if (said !== null) tell(said);
  }
}

/** Whether a fitting comes to the sample as it is. */
function isUnbent({ length, semitones, map }: TimeStretch, size: number): boolean {
  if (length !== size || semitones !== 0) return false;
  return !map || map.source.every((frame, i) => Math.abs(frame - map.result[i]) < 1e-6);
}

/** What fitted samples may take when nobody hears them, bytes. */
const MOST_BYTES = 256 * 1024 * 1024;

/** Fitted samples in the page: who comes back to one at the same target hears it at once. */
export class FitCache extends SoundCache<OpenFit> {
  constructor(
    private readonly samples: SampleCache,
    private readonly thread: FitThread,
    private readonly rate: () => number,
    mostBytes = MOST_BYTES,
  ) {
    super(mostBytes);
  }

  take(aimed: Aimed): OpenFit {
    const name = `${aimed.sampleId} ${JSON.stringify(aimed.recipe ?? aimed.plan)}`;
    return this.hold(name, () => new OpenFit(name, aimed, this.samples, this.thread, this.rate()));
  }

  giveBack(fit: OpenFit) {
    this.letGo(fit.name, fit);
  }
}
