import type { FromEngine } from '@/contract/workers/engine';
import { createStore } from 'zustand/vanilla';
import { clickSound } from '@/core/playing/clickSound';
import { drumSamples } from '@/core/playing/drumPattern';
import { barsBefore } from '@/core/playing/clock';
import type { Segment } from '@/core/playing/segments';
import { beatPosition, beatTime, type Grid } from '@/core/rhythm/grid';
import { AtTarget, type AimedPlay } from './atTarget';
import type { Stage } from './stage';
import { mixOf, type ClickSettings, type Solo } from './clickSettings';
import type { DecodedAudio } from './decodedAudio';
import { FitThread } from './fitThread';
import { FitCache } from './openFit';
import { OnRuler } from './onRuler';
import type { Ruler } from './ruler';
import type { OpenSample } from './openSample';
import { beginningState, keepLatency, type EngineState, type Speed } from './engineState';
import { SampleCache } from './sampleCache';
import { whileHeld } from './whileHeld';
import { SoundClock } from './soundClock';
import { SoundThread } from './soundThread';
import { Timeline } from './timeline';
import { Voices, type Sounding } from './voices';

/**
 * The one sound engine of the page: samples on one clock, with its grid, its click and its legs. Screens read its state
 * with `useEngine`, and the place that is heard with `usePlayhead`; everything can be changed while it plays.
 */
class Engine {
  private readonly store = createStore(beginningState);
  private readonly thread = new SoundThread(
    (report) => this.hear(report),
    () => this.tellAll(),
  );
  private readonly clock = new SoundClock(this.thread);
  private readonly timeline = new Timeline(this.thread, () => !this.session);
  private readonly samples = new SampleCache(() => this.thread.rate);
  private readonly fits = new FitCache(this.samples, new FitThread(), () => this.thread.rate);
  /** What sounds at a target. */
  readonly target = new AtTarget(this.stage(), this.fits);
  /** The lanes of a blend. */
  readonly ruler = new OnRuler(this.stage(), this.fits);
  private readonly voices = new Voices(this.thread, this.samples, {
    onPlayable: () => {
      // The length may be another than before.
      this.setSegments(this.state.segments);
      if (this.state.status === 'loading' && !this.pending) this.set({ status: 'ready' });
    },
    onMore: () => this.cameIn(),
    onFault: (sampleId, fault) => {
      if (sampleId === this.state.sampleId) {
        this.stop();
        this.set({ status: 'empty' });
      }
      this.tellLoaded();
      this.set({ fault });
    },
  });
  /** What is played as soon as it is decoded. */
  private pending: { from: number; countIn: boolean } | null = null;
  /** What was open before all sounded at a target. */
  private left: { sampleId: string; durationSeconds: number } | null = null;
  private together: readonly Sounding[] | null = null;
  private clickTold: string | null = null;
  /** Where playing begins next, seconds. */
  private cue = 0;

  /** What has the clock while no single sample has it. */
  private get session(): AtTarget | OnRuler | null {
    return this.target.isOn ? this.target : this.ruler.isOn ? this.ruler : null;
  }

  subscribe = (listener: () => void) => this.store.subscribe(listener);

  getState = () => this.store.getState();

  private get state(): EngineState {
    return this.store.getState();
  }

  private set(patch: Partial<EngineState>) {
    this.store.setState(patch);
  }

  /** Opens a sample, unless it is open already; the clock is then its own, and it sounds alone. */
  open(sampleId: string, durationSeconds: number | null = null): OpenSample {
    if (this.voices.lead?.sampleId === sampleId) return this.voices.lead;
    this.stop();
    this.session?.clear();
    this.left = null;
    this.together = null;
    this.pending = null;
    this.cue = 0;
    this.set({
      sampleId,
      status: 'loading',
      beside: [],
      loaded: 0,
      loadedBeside: 1,
      fault: null,
      segments: [],
    });
    this.timeline.setGrid(null);
    this.timeline.setHits([]);
    this.timeline.setSegments([]);
    void this.start();
    return this.voices.open(sampleId, durationSeconds);
  }

  /** Plays a sample by itself, without the click. */
  async playAlone(sampleId: string, from: number, durationSeconds: number | null = null) {
    if (!(await this.open(sampleId, durationSeconds).ready) || this.state.sampleId !== sampleId) return;
    this.setGrid(null);
    this.setSegments([]);
    await this.play(from);
  }

  /** The same, or stops it where it plays. */
  toggleAlone(sampleId: string, durationSeconds: number | null = null, from = 0) {
    if (this.state.sampleId === sampleId && this.state.status === 'playing') this.stop();
    else void this.playAlone(sampleId, from, durationSeconds);
  }

  /** What samples at a target need of the engine. */
  private stage(): Stage {
    return {
      rate: () => this.thread.rate,
      tell: (message) => this.thread.tell(message),
      now: () => (this.state.status === 'playing' && this.session ? this.renderedFrame() : null),
      startAt: (frame, audibleFrom) => this.clock.start(frame, audibleFrom),
      looksAt: (sampleId, beside) =>
        this.set({ sampleId, beside, status: 'playing', loaded: 1, fault: null }),
      fault: (fault) =>
        this.set({ fault, status: this.state.status === 'loading' ? 'empty' : this.state.status }),
    };
  }

  /** Lets a sample sound by a plan, alone or beside those that sound so; `from`: a place in it, seconds. */
  async playAtTarget(aimed: AimedPlay, from = 0) {
    if (!(await this.start())) return;
    await this.thread.context.resume();
    if (!this.target.isOn) this.leaveVoices(aimed.sampleId);
    await this.target.play(aimed, from);
  }

  /** Lets the lanes of a blend sound, from a place on its ruler (default: where it stands), after the count-in if one is set. */
  async playRuler(
    ruler: Ruler,
    from = this.state.sampleId === ruler.id ? this.position() : 0,
    countIn = true,
  ) {
    if (!(await this.start())) return;
    await this.thread.context.resume();
    if (!this.ruler.isOn || this.state.sampleId !== ruler.id) this.leaveVoices(ruler.id);
    const { click } = this.state;
    const wanted =
      ruler.round && (from >= ruler.round.to || from < ruler.round.from) ? ruler.round.from : from;
    const start = wanted >= ruler.seconds - 0.01 ? 0 : wanted;
    // What hangs before bar 1 is heard with it.
    const audible = start === 0 ? Math.min(0, ruler.begins) : start;
    const counts = countIn && click.on && click.countInBars > 0;
    const begin = counts ? barsBefore(ruler.grid, start, click.countInBars) : audible;
    await this.ruler.play(ruler, audible, Math.min(begin, audible));
  }

  /** All of a sample's audio; null where it cannot be had. It stays in the page as long as there is room. */
  wholeOf(sampleId: string): Promise<DecodedAudio | null> {
    return this.samples.wholeOf(sampleId);
  }

  /** What runs along with what sounds at a target; `own`: the click as it is set. */
  runAlong(along: 'nothing' | 'click' | 'drums' | 'own') {
    if (along === 'click' || along === 'drums') this.setClick({ on: true, drums: along === 'drums' });
    this.target.click(along !== 'nothing');
  }

  /** The samples that sound at a target. */
  get atTarget(): string[] {
    return this.state.status === 'playing' ? this.target.sampleIds : [];
  }

  /** The clock is no single sample's any more. */
  private leaveVoices(sampleId: string) {
    this.stop();
    this.pending = null;
    this.cue = 0;
    this.session?.clear();
    const { lead } = this.voices;
    if (lead) this.left = { sampleId: lead.sampleId, durationSeconds: lead.durationSeconds };
    this.voices.close();
    this.timeline.leave();
    this.set({ sampleId, status: 'loading', beside: [], loaded: 0, loadedBeside: 1, fault: null });
  }

  /** The sample that was open before all sounded at a target is open again, with everything that was said of it. */
  private comeBack(from: number, countIn: boolean) {
    const { left, together } = this;
    if (!left) return;
    this.left = null;
    this.session?.clear();
    this.set({ sampleId: left.sampleId, beside: [], status: 'loading' });
    this.pending = { from, countIn };
    this.timeline.tellAll();
    this.voices.open(left.sampleId, left.durationSeconds);
    if (together) this.voices.soundTogether(together);
    this.cameIn();
  }

  /** Lets these samples sound on the clock of the open one, and it as they say; null: it alone, as it was recorded. */
  soundTogether(wanted: readonly Sounding[] | null) {
    this.together = wanted;
    if (this.session) return;
    this.voices.soundTogether(wanted);
    this.cameIn();
  }

  /** More is decoded: what waits for it begins, and those beside join in. */
  private cameIn() {
    this.tellLoaded();
    if (this.state.status === 'playing') this.voices.join(this.position());
    const { pending } = this;
    if (!pending || !this.voices.areThere(pending.from)) return;
    this.pending = null;
    void this.play(pending.from, pending.countIn);
  }

  private tellLoaded() {
    this.set({ loaded: this.voices.lead?.loaded ?? 0, loadedBeside: this.voices.loadedBeside() });
  }

  /** Lays the clock's bars and beats, which the click follows. */
  setGrid(grid: Grid | null) {
    this.timeline.setGrid(grid);
  }

  setClick(patch: Partial<ClickSettings>) {
    this.set({ click: { ...this.state.click, ...patch } });
    this.tellClick();
  }

  private tellClick() {
    const { click, solo } = this.state;
    this.thread.tell({ kind: 'mix', mix: mixOf(click, solo) });
    if (this.clickTold === click.sound) return;
    this.clickTold = click.sound;
    const samples = (accented: boolean) => clickSound(click.sound, accented, this.thread.rate);
    this.thread.tell({
      kind: 'click sound',
      samples: { plain: samples(false), accented: samples(true), drums: drumSamples(this.thread.rate) },
    });
  }

  /** Half, three quarters, full speed; the pitch stays. */
  setSpeed(speed: Speed) {
    const playing = this.state.status === 'playing' && !this.session;
    if (playing) this.cue = this.position();
    this.set({ speed });
    this.thread.tell({ kind: 'speed', speed });
    if (playing) void this.play(this.cue, false);
  }

  /** Attacks that stay exactly in place when it is heard slowly, seconds. */
  setHits(times: readonly number[]) {
    this.timeline.setHits(times);
  }

  /** Only the click, or only the audio, until the key of `event` is let go or the window is left. */
  soloWhileHeld(solo: 'click' | 'audio', event: KeyboardEvent) {
    if (event.repeat) return;
    const apply = (value: Solo) => {
      this.set({ solo: value });
      this.tellClick();
    };
    apply(solo);
    whileHeld(event, () => apply(null));
  }

  setExtraLatency(seconds: number) {
    this.set({ extraLatency: seconds });
    keepLatency(seconds);
  }

  /** Legs that are played again and again, seconds; none: straight on. */
  setSegments(segments: readonly Segment[]) {
    if (segments.length === 0 && this.state.segments.length === 0) return;
    this.set({ segments });
    this.timeline.setSegments(segments);
  }

  /** Plays from a time in seconds (default: where it stands), after the count-in if one is set and wanted. */
  async play(from: number = this.position(), countIn = true): Promise<void> {
    if (this.session && this.left) return this.comeBack(from, countIn);
    const { lead } = this.voices;
    if (!lead?.channels || !(await this.start())) return;
    await this.thread.context.resume();
    if (this.voices.lead !== lead) return;
    const { rate } = this.thread;
    const wanted = from >= lead.durationSeconds - 0.01 ? 0 : from;
    const { click, segments } = this.state;
    const outside =
      segments.length > 0 && !segments.some((segment) => wanted >= segment.start && wanted < segment.end);
    const start = outside ? segments[0].start : wanted;
    if (!this.voices.areThere(start)) {
      this.stop();
      this.cue = start;
      this.pending = { from, countIn };
      this.set({ status: 'loading' });
      return;
    }
    this.pending = null;
    this.voices.join(start);
    const { grid } = this.timeline;
    const begin =
      countIn && grid && click.on && click.countInBars > 0
        ? barsBefore(grid, start, click.countInBars)
        : start;
    this.clock.start(begin * rate, begin < start ? start * rate : -Infinity);
    this.set({ status: 'playing' });
  }

  private renderedFrame(): number {
    return this.clock.renderedFrame(this.state.speed);
  }

  stop() {
    this.target.forget();
    this.ruler.forget();
    if (this.pending) {
      this.pending = null;
      this.set({ status: 'ready' });
    }
    // Lanes that were asked for and are not there yet.
    if (this.state.status === 'loading' && !this.voices.lead) this.set({ status: 'ready' });
    if (this.state.status !== 'playing') return;
    this.cue = this.position();
    this.thread.tell({ kind: 'stop' });
    this.set({ status: 'ready' });
  }

  toggle(from?: number) {
    if (this.state.status === 'playing' || this.pending) this.stop();
    else void this.play(from);
  }

  /** Moves the playhead; playing goes on from there. */
  seek(time: number) {
    this.cue = Math.max(0, time);
    if (this.state.status === 'playing' || this.pending) void this.play(this.cue);
    // The playhead stands elsewhere: a state of its own, with the same in it.
    else this.set({});
  }

  /** The time that is heard now (or that playing would begin at), seconds. */
  position(): number {
    if (this.state.status !== 'playing') return this.cue;
    const { speed, segments, extraLatency } = this.state;
    const latency = this.clock.latency(extraLatency);
    if (this.session) return this.session.placeAt(this.renderedFrame() - latency * this.thread.rate * speed);
    return this.clock.heardTime(segments, speed, latency);
  }

  /** Seconds from the nearest beat of the grid to a time, or null without a grid. */
  besideClick(time: number): number | null {
    const { grid } = this.timeline;
    if (!grid) return null;
    return time - beatTime(grid, Math.round(beatPosition(grid, time)));
  }

  /** The context that everything sounds through. */
  get context(): AudioContext {
    return this.thread.context;
  }

  /** Whether the audio thread runs; says why when it does not. */
  private async start(): Promise<boolean> {
    try {
      await this.thread.started();
      return true;
    } catch (error) {
      this.set({ fault: `${(error as Error).message} Play tries again.` });
      return false;
    }
  }

  private hear(report: FromEngine) {
    if (!this.clock.hear(report) || this.state.status !== 'playing') return;
    const at = report.position / this.thread.rate;
    if (!report.playing) {
      // The end was reached: the next start begins where this one did not end.
      this.cue = 0;
      return this.set({ status: 'ready' });
    }
    if (this.session) return this.session.keepUp(report.position);
    if (this.voices.runOut(at)) void this.play(at, false);
  }

  /** Everything that the audio thread is to know, when it has just begun. */
  private tellAll() {
    this.clickTold = null;
    this.voices.tellAll();
    this.thread.tell({ kind: 'speed', speed: this.state.speed });
    this.timeline.tellAll();
    this.tellClick();
    if (this.state.fault?.endsWith('Play tries again.')) this.set({ fault: null });
  }
}

export const engine = new Engine();
