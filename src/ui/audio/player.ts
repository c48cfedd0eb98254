import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { clickSound, type ClickSound } from '@/core/signal/clickSound';
import { clickTrack, type ClickPace } from '@/core/signal/clickTrack';
import type { ClickMix, Leg } from '@/core/signal/playback';
import type { FromPlayer, ToPlayer } from '@/core/signal/playerMessages';
import type { DecodedAudio } from './decodedAudio';
import { OpenSample } from './openSample';

/** How the click is set; kept in the browser. */
export interface ClickSettings extends ClickMix, ClickPace {
  sound: ClickSound;
  countInBars: 0 | 1 | 2;
}

export const DEFAULT_CLICK: ClickSettings = {
  on: true,
  level: 0.8,
  accent: true,
  balance: 0,
  split: false,
  sound: 'wood',
  pace: 1,
  subdivision: 1,
  countInBars: 0,
};

export interface PlayerState {
  sampleId: string | null;
  status: 'empty' | 'loading' | 'ready' | 'playing';
  /** Share of the file that is fetched and decoded, while loading. */
  loaded: number;
  fault: string | null;
  click: ClickSettings;
  /** What goes round, seconds; empty when nothing does. */
  route: readonly Leg[];
  /** Share of the full speed at which it is heard, the pitch held. */
  speed: Speed;
  /** While a key is held only this is heard. */
  solo: 'click' | 'audio' | null;
  /** What is added to the delay that the browser tells of, seconds; kept in the browser. */
  extraLatency: number;
}

export const SPEEDS = [1, 0.75, 0.5] as const;
export type Speed = (typeof SPEEDS)[number];

const LATENCY_KEY = 'grento-latency';

/** Bars before the beginning and after the end for which clicks are laid out. */
const MARGIN_SECONDS = 12;
const NO_CLICKS = { frames: new Float64Array(0), accents: new Uint8Array(0) };

/**
 * The one player of the page: it hands an open sample to the audio thread and keeps the click on the grid. Screens read its state with `subscribe` and `getState`, and the place that is heard with `position`.
 */
class Player {
  private state: PlayerState = {
    sampleId: null,
    status: 'empty',
    loaded: 0,
    fault: null,
    click: DEFAULT_CLICK,
    route: [],
    speed: 1,
    solo: null,
    extraLatency: storedLatency(),
  };
  private listeners = new Set<() => void>();
  private context: AudioContext | null = null;
  private node: Promise<AudioWorkletNode> | null = null;
  private sample: OpenSample | null = null;
  /** What is played as soon as it is decoded. */
  private pending: { from: number; countIn: boolean } | null = null;
  private hits: readonly number[] = [];
  private grid: Grid | null = null;
  private heard: FromPlayer = { run: 0, position: 0, time: 0, playing: false };
  /** Where playing begins next, seconds. */
  private cue = 0;
  private run = 0;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  getState = () => this.state;

  private set(patch: Partial<PlayerState>) {
    this.state = { ...this.state, ...patch };
    this.listeners.forEach((listener) => listener());
  }

  /** The audio that is loaded, or null. */
  get decoded(): DecodedAudio | null {
    return this.sample?.audio ?? null;
  }

  /** Opens a sample, unless it is open already. */
  open(sampleId: string, durationSeconds: number | null = null): OpenSample {
    if (this.sample?.sampleId === sampleId) return this.sample;
    this.stop();
    this.sample?.close();
    this.pending = null;
    this.grid = null;
    this.hits = [];
    this.cue = 0;
    this.heard = { run: this.run, position: 0, time: 0, playing: false };
    this.set({ sampleId, status: 'loading', loaded: 0, fault: null, route: [] });
    const rate = this.started().then(() => this.context!.sampleRate);
    const sample = new OpenSample(sampleId, durationSeconds, rate, {
      onPlayable: (channels) => {
        void this.started().then((node) => this.tell(node, { kind: 'load', channels }));
        void this.sendClicks();
        void this.sendHits();
        this.setRoute(this.state.route);
        this.set({ status: 'ready' });
      },
      onMore: (loaded) => {
        this.set({ loaded });
        // What waits for it begins.
        const { pending } = this;
        if (!pending || !sample.isThere(pending.from)) return;
        this.pending = null;
        void this.play(pending.from, pending.countIn);
      },
      onFault: (fault) => {
        this.stop();
        this.sample = null;
        this.set({ status: 'empty', fault });
      },
    });
    this.sample = sample;
    return sample;
  }

  /** Lets other audio of the same rate and start be heard in the sample's place (its stem set), or (null) its own again. */
  hearInstead(channels: Float32Array[] | null) {
    const own = this.decoded?.playChannels;
    if (!own) return;
    const playing = this.state.status === 'playing';
    const at = this.position();
    const wanted = channels ?? own;
    void this.node?.then((node) => {
      this.tell(node, { kind: 'load', channels: wanted });
      this.setRoute(this.state.route);
      if (playing) void this.play(at, false);
    });
  }

  /** Lays the click on a grid; also while playing. */
  setGrid(grid: Grid | null) {
    this.grid = grid;
    void this.sendClicks();
  }

  setClick(patch: Partial<ClickSettings>) {
    this.set({ click: { ...this.state.click, ...patch } });
    void this.started().then((node) => this.sendMix(node));
    if (patch.subdivision || patch.pace) void this.sendClicks();
  }

  /** Half, three quarters, full speed; the pitch stays. */
  setSpeed(speed: Speed) {
    if (this.state.status === 'playing') this.cue = this.position();
    this.set({ speed });
    void this.started().then((node) => this.tell(node, { kind: 'speed', speed }));
    if (this.state.status === 'playing') void this.play(this.cue, false);
  }

  nextSpeed() {
    this.setSpeed(SPEEDS[(SPEEDS.indexOf(this.state.speed) + 1) % SPEEDS.length]);
  }

  /** Attacks that stay exactly in place when it is heard slowly, seconds. */
  setHits(times: readonly number[]) {
    this.hits = times;
    void this.sendHits();
  }

  private async sendHits() {
    const node = await this.started();
    const rate = this.context!.sampleRate;
    this.tell(node, { kind: 'hits', hits: Float64Array.from(this.hits, (time) => time * rate) });
  }

  /** Only the click, or only the audio, until the key of `event` is let go. */
  soloWhileHeld(solo: 'click' | 'audio', event: KeyboardEvent) {
    if (event.repeat) return;
    const apply = (value: 'click' | 'audio' | null) => {
      this.set({ solo: value });
      void this.started().then((node) => this.sendMix(node));
    };
    apply(solo);
    const release = (up: KeyboardEvent) => {
      if (up.code !== event.code) return;
      window.removeEventListener('keyup', release);
      apply(null);
    };
    window.addEventListener('keyup', release);
  }

  setExtraLatency(seconds: number) {
    this.set({ extraLatency: seconds });
    localStorage.setItem(LATENCY_KEY, String(seconds));
  }

  /** Legs that are played again and again, seconds; none: straight on. */
  setRoute(route: readonly Leg[]) {
    if (route.length === 0 && this.state.route.length === 0) return;
    this.set({ route });
    void this.started().then((node) => {
      const rate = this.context!.sampleRate;
      this.tell(node, {
        kind: 'route',
        route: route.map((leg) => ({ ...leg, start: leg.start * rate, end: leg.end * rate })),
      });
    });
  }

  /** Plays from a time in seconds (default: where it stands), after the count-in if one is set and wanted. */
  async play(from: number = this.position(), countIn = true): Promise<void> {
    const node = await this.started();
    const { sample } = this;
    if (!sample?.channels) return;
    await this.context!.resume();
    if (sample !== this.sample) return;
    const rate = this.context!.sampleRate;
    const wanted = from >= sample.durationSeconds - 0.01 ? 0 : from;
    const { click, route } = this.state;
    const outside = route.length > 0 && !route.some((leg) => wanted >= leg.start && wanted < leg.end);
    const start = outside ? route[0].start : wanted;
    if (!sample.isThere(start)) {
      this.stop();
      this.cue = start;
      this.pending = { from, countIn };
      this.set({ status: 'loading' });
      return;
    }
    this.pending = null;
    const begin =
      countIn && this.grid && click.on && click.countInBars > 0
        ? barsBefore(this.grid, start, click.countInBars)
        : start;
    const run = ++this.run;
    this.heard = { run, position: begin * rate, time: this.context!.currentTime, playing: true };
    this.tell(node, {
      kind: 'start',
      run,
      position: begin * rate,
      audibleFrom: begin < start ? start * rate : -1e12,
    });
    this.set({ status: 'playing' });
  }

  stop() {
    if (this.pending) {
      this.pending = null;
      this.set({ status: 'ready' });
    }
    if (this.state.status !== 'playing') return;
    this.cue = this.position();
    void this.node?.then((node) => this.tell(node, { kind: 'stop' }));
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
    else this.listeners.forEach((listener) => listener());
  }

  /** The time that is heard now (or that playing would begin at), seconds. */
  position(): number {
    if (this.state.status !== 'playing' || !this.context) return this.cue;
    const rate = this.context.sampleRate;
    const latency = (this.context.outputLatency || this.context.baseLatency || 0) + this.state.extraLatency;
    const { speed } = this.state;
    let time = this.heard.position / rate + (this.context.currentTime - this.heard.time - latency) * speed;
    // Since the report the turn of a leg may have been passed.
    const { route } = this.state;
    const reported = this.heard.position / rate;
    let leg = route.findIndex(({ start, end }) => reported >= start - 1e-6 && reported < end);
    if (leg < 0) leg = route.findIndex(({ end }) => reported < end);
    while (leg >= 0 && time >= route[leg].end) {
      const over = time - route[leg].end;
      leg = (leg + 1) % route.length;
      time = route[leg].start + over;
    }
    return time;
  }

  /** The context that everything sounds through. */
  async audioContext(): Promise<AudioContext> {
    await this.started();
    return this.context!;
  }

  /** Seconds from the nearest beat of the grid to a time, or null without a grid. */
  besideClick(time: number): number | null {
    if (!this.grid) return null;
    return time - beatTime(this.grid, Math.round(beatPosition(this.grid, time)));
  }

  private async sendClicks() {
    const { sample } = this;
    if (!sample?.channels) return;
    const node = await this.started();
    const rate = this.context!.sampleRate;
    const { grid } = this;
    this.tell(node, {
      kind: 'clicks',
      clicks: grid
        ? clickTrack(grid, -MARGIN_SECONDS, sample.durationSeconds + MARGIN_SECONDS, rate, this.state.click)
        : NO_CLICKS,
    });
  }

  private sendMix(node: AudioWorkletNode) {
    const { click } = this.state;
    const rate = this.context!.sampleRate;
    this.tell(node, {
      kind: 'voices',
      voices: { plain: clickSound(click.sound, false, rate), accented: clickSound(click.sound, true, rate) },
    });
    const { on, level, accent, balance, split } = click;
    const { solo } = this.state;
    this.tell(node, {
      kind: 'mix',
      mix: {
        on: solo ? solo === 'click' : on,
        level,
        accent,
        balance: solo === 'click' ? 1 : solo === 'audio' ? -1 : balance,
        split,
      },
    });
  }

  private tell(node: AudioWorkletNode, message: ToPlayer) {
    node.port.postMessage(message);
  }

  private started(): Promise<AudioWorkletNode> {
    this.node ??= this.startNode();
    return this.node;
  }

  private async startNode(): Promise<AudioWorkletNode> {
    const context = new AudioContext({ latencyHint: 'interactive' });
    this.context = context;
    await context.audioWorklet.addModule('/built/player.worklet.js');
    const node = new AudioWorkletNode(context, 'grento-player', {
      numberOfInputs: 0,
      outputChannelCount: [2],
    });
    node.port.onmessage = ({ data }: MessageEvent<FromPlayer>) => {
      if (data.run !== this.run) return;
      this.heard = data;
      const at = data.position / this.context!.sampleRate;
      if (data.playing && this.state.status === 'playing' && this.sample!.runsOut(at))
        void this.play(at, false);
      if (!data.playing && this.state.status === 'playing') {
        // The end was reached: the next start begins where this one did not end.
        this.cue = 0;
        this.set({ status: 'ready' });
      }
    };
    node.connect(context.destination);
    this.sendMix(node);
    return node;
  }
}

/** The time that stands so many bars before another, seconds. */
function barsBefore(grid: Grid, time: number, bars: number): number {
  return beatTime(grid, beatPosition(grid, time) - bars * feltBeatsPerBar(grid.meter));
}

function storedLatency(): number {
  const stored = typeof localStorage === 'undefined' ? NaN : Number(localStorage.getItem(LATENCY_KEY));
  return Number.isFinite(stored) && Math.abs(stored) < 1 ? stored : 0;
}

export const player = new Player();
