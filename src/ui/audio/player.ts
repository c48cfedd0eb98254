import { beatsWithin, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { clickSound, type ClickSound } from '@/core/signal/clickSound';
import type { ClickMix } from '@/core/signal/playback';
import type { FromPlayer, ToPlayer } from '@/core/signal/playerMessages';
import { decodeSample, type DecodedAudio } from './decodedAudio';

/** How the click is set; kept in the browser. */
export interface ClickSettings extends ClickMix {
  sound: ClickSound;
  /** Clicks per felt beat. */
  subdivision: 1 | 2 | 3 | 4;
  countInBars: 0 | 1 | 2;
}

export const DEFAULT_CLICK: ClickSettings = {
  on: true,
  level: 0.8,
  accent: true,
  balance: 0,
  split: false,
  sound: 'wood',
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
  loop: { start: number; end: number } | null;
}

/** Bars before the beginning and after the end for which clicks are laid out. */
const MARGIN_SECONDS = 12;

/**
 * The one player of the page: it decodes samples, hands them to the audio thread and keeps the click on the
 * grid. Screens read its state with `subscribe` and `getState`, and the place that is heard with `position`.
 */
class Player {
  private state: PlayerState = {
    sampleId: null,
    status: 'empty',
    loaded: 0,
    fault: null,
    click: DEFAULT_CLICK,
    loop: null,
  };
  private listeners = new Set<() => void>();
  private context: AudioContext | null = null;
  private node: Promise<AudioWorkletNode> | null = null;
  private audio: DecodedAudio | null = null;
  private loading: AbortController | null = null;
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
    return this.audio;
  }

  /** Loads a sample, unless it is loaded already. Resolves to null when another one was wanted meanwhile. */
  async load(sampleId: string): Promise<DecodedAudio | null> {
    if (this.state.sampleId === sampleId && this.audio) return this.audio;
    this.stop();
    this.loading?.abort();
    const loading = new AbortController();
    this.loading = loading;
    this.audio = null;
    this.grid = null;
    this.cue = 0;
    this.heard = { run: this.run, position: 0, time: 0, playing: false };
    this.set({ sampleId, status: 'loading', loaded: 0, fault: null, loop: null });
    try {
      const node = await this.started();
      const audio = await decodeSample(
        sampleId,
        this.context!.sampleRate,
        (loaded) => this.set({ loaded }),
        loading.signal,
      );
      if (loading.signal.aborted) return null;
      this.audio = audio;
      this.tell(node, { kind: 'load', channels: audio.playChannels });
      this.tell(node, {
        kind: 'clicks',
        clicks: { frames: new Float64Array(0), accents: new Uint8Array(0) },
      });
      this.set({ status: 'ready', loaded: 1 });
      return audio;
    } catch (error) {
      if (loading.signal.aborted) return null;
      this.set({ status: 'empty', fault: error instanceof Error ? error.message : String(error) });
      return null;
    }
  }

  /** Lays the click on a grid; also while playing. */
  setGrid(grid: Grid | null) {
    this.grid = grid;
    void this.sendClicks();
  }

  setClick(patch: Partial<ClickSettings>) {
    this.set({ click: { ...this.state.click, ...patch } });
    void this.started().then((node) => this.sendMix(node));
    if (patch.subdivision) void this.sendClicks();
  }

  setLoop(loop: { start: number; end: number } | null) {
    this.set({ loop });
    void this.started().then((node) => {
      const rate = this.context!.sampleRate;
      this.tell(node, { kind: 'loop', loop: loop && { start: loop.start * rate, end: loop.end * rate } });
    });
  }

  /** Plays from a time in seconds (default: where it stands), after the count-in if one is set. */
  async play(from: number = this.position()): Promise<void> {
    const node = await this.started();
    if (!this.audio) return;
    await this.context!.resume();
    const rate = this.context!.sampleRate;
    const start = from >= this.audio.durationSeconds - 0.01 ? 0 : from;
    const { click, loop } = this.state;
    const begin =
      this.grid && click.on && click.countInBars > 0 ? this.beforeBars(start, click.countInBars) : start;
    const inLoop = loop && (start < loop.start || start >= loop.end) ? loop.start : begin;
    const run = ++this.run;
    this.heard = { run, position: inLoop * rate, time: this.context!.currentTime, playing: true };
    this.tell(node, {
      kind: 'start',
      run,
      position: inLoop * rate,
      audibleFrom: begin < start ? start * rate : -1e12,
    });
    this.set({ status: 'playing' });
  }

  stop() {
    if (this.state.status !== 'playing') return;
    this.cue = this.position();
    void this.node?.then((node) => this.tell(node, { kind: 'stop' }));
    this.set({ status: 'ready' });
  }

  toggle(from?: number) {
    if (this.state.status === 'playing') this.stop();
    else void this.play(from);
  }

  /** Moves the playhead; playing goes on from there. */
  seek(time: number) {
    this.cue = Math.max(0, time);
    if (this.state.status === 'playing') void this.play(this.cue);
    else this.listeners.forEach((listener) => listener());
  }

  /** The time that is heard now (or that playing would begin at), seconds. */
  position(): number {
    if (this.state.status !== 'playing' || !this.context) return this.cue;
    const rate = this.context.sampleRate;
    const latency = this.context.outputLatency || this.context.baseLatency || 0;
    let time = this.heard.position / rate + (this.context.currentTime - this.heard.time - latency);
    const { loop } = this.state;
    if (loop && this.heard.position / rate < loop.end && time >= loop.end)
      time = loop.start + ((time - loop.start) % (loop.end - loop.start));
    return time;
  }

  private beforeBars(time: number, bars: number): number {
    const grid = this.grid!;
    return time - (bars * feltBeatsPerBar(grid.meter) * 60) / grid.tempoBpm;
  }

  private async sendClicks() {
    if (!this.audio) return;
    const node = await this.started();
    const rate = this.context!.sampleRate;
    const grid = this.grid;
    const frames: number[] = [];
    const accents: number[] = [];
    if (grid) {
      const beats = beatsWithin(grid, -MARGIN_SECONDS, this.audio.durationSeconds + MARGIN_SECONDS);
      const { subdivision } = this.state.click;
      beats.forEach(({ time, place }, i) => {
        const next = beats[i + 1]?.time ?? time + 60 / grid.tempoBpm;
        for (let s = 0; s < subdivision; s++) {
          frames.push((time + (s * (next - time)) / subdivision) * rate);
          accents.push(s === 0 && place === 0 ? 1 : 0);
        }
      });
    }
    this.tell(node, {
      kind: 'clicks',
      clicks: { frames: Float64Array.from(frames), accents: Uint8Array.from(accents) },
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
    this.tell(node, { kind: 'mix', mix: { on, level, accent, balance, split } });
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

export const player = new Player();
