import { Click, type ClickMix, type ClickSamples } from './click';
import { Clock } from './clock';
import type { Segment } from './segments';
import { SlowReader } from './slowReader';
import { Voice, type Cut, type Hearing, type VoiceReader } from './voice';

/** Audio fades over this many frames at starts and stops, so that they do not crack. */
export const FADE_FRAMES = 64;
const ROOM = 512;

/**
 * Plays voices on one clock and mixes a click into them, sample by sample: a click that stands at frame n sounds exactly
 * with frame n of the clock, also over a turn and when anything is changed while it plays. Heard slowly, all voices are
 * slowed as one. It knows nothing of the browser.
 */
export class Mixer {
  playing = false;
  private readonly clock: Clock;
  private readonly voices = new Map<string, Voice>();
  private readonly click = new Click();
  private audibleFrom = -Infinity;
  private mix: ClickMix = {
    on: false,
    level: 1,
    accent: true,
    balance: 0,
    split: false,
    pace: 1,
    subdivision: 1,
    drums: false,
    swing: 0.5,
  };
  private fade = 0;
  private stopping = false;
  /** What is to be done when the clock comes to a frame, soonest first. */
  private later: { frame: number; act: () => void }[] = [];
  private readonly slow = new SlowReader((left, right, from, count) =>
    this.readVoices(left, right, from, count),
  );
  private scratch = [new Float32Array(ROOM), new Float32Array(ROOM)];

  /** `rate`: frames a second of what is heard and of all voices. */
  constructor(rate: number) {
    this.clock = new Clock(rate);
  }

  /** The next frame of the clock. */
  get position(): number {
    return this.clock.position;
  }

  /** Puts a voice on the clock, or another in its place; it can be heard at once. */
  put(id: string, reader: VoiceReader, start: number, hearing: Hearing, cut: Cut | null = null) {
    this.voices.set(id, new Voice(reader, start, hearing, cut));
    this.voicesChanged();
  }

  hear(id: string, hearing: Hearing) {
    this.voices.get(id)?.hear(hearing);
    this.slow.forget();
  }

  take(id: string) {
    this.voices.delete(id);
    this.voicesChanged();
  }

  /** Takes all voices away, and whatever looped. */
  clear() {
    this.voices.clear();
    this.later = [];
    this.voicesChanged();
    this.playing = false;
    this.click.silence();
    this.clock.setSegments([]);
    this.clock.seek(0);
  }

  /** Does something exactly when the clock comes to a frame; at once where that has passed. */
  at(frame: number, act: () => void) {
    this.later.push({ frame, act });
    this.later.sort((a, b) => a.frame - b.frame);
  }

  /** Does what is due, and tells how many frames are left until there is something to do. */
  private untilNext(): number {
    const { position, speed } = this.clock;
    while (this.later.length > 0 && this.later[0].frame < position + speed / 2) this.later.shift()!.act();
    return this.later.length > 0 ? Math.ceil((this.later[0].frame - position) / speed - 0.5) : Infinity;
  }

  private voicesChanged() {
    this.clock.end = [...this.voices.values()].reduce((end, voice) => Math.max(end, voice.end), 0);
    this.slow.forget();
  }

  /**
   * Plays from `position` on, faded in over the frames before it, so that an attack there sounds whole; audio before
   * `audibleFrom` is silent (count-in).
   */
  start(position: number, audibleFrom = -Infinity) {
    this.clock.seek(position - FADE_FRAMES * this.clock.speed);
    this.audibleFrom = audibleFrom;
    this.playing = this.clock.end > 0;
    this.stopping = false;
    this.fade = 0;
    this.click.silence();
    this.slow.jump();
  }

  stop() {
    this.stopping = true;
  }

  /** Frames of the clock per frame that is heard, at most 1; the pitch stays. Throws RangeError for others. */
  setSpeed(speed: number) {
    this.clock.setSpeed(speed);
    this.slow.jump();
  }

  /** Attacks, in frames of the clock, that stay exactly in place when it is heard slowly. */
  setHits(hits: Float64Array) {
    this.slow.setHits(hits);
  }

  setSegments(segments: readonly Segment[]) {
    this.clock.setSegments(segments);
  }

  /** Bars and beats of the clock, which the click follows. */
  setGrid(grid: Clock['grid']) {
    this.clock.grid = grid;
  }

  setClickSamples(samples: ClickSamples) {
    this.click.setSamples(samples);
  }

  setMix(mix: ClickMix) {
    this.mix = mix;
  }

  /** Fills both outputs. Returns false when playing has ended within or before this block. */
  render(left: Float32Array, right: Float32Array): boolean {
    left.fill(0);
    right.fill(0);
    let done = 0;
    while (done < left.length && this.playing) {
      const room = Math.min(left.length - done, Math.max(1, this.untilNext()));
      const count = this.clock.ahead(room);
      if (count > 0) this.renderStretch(left, right, done, count);
      done += count;
      const fades = this.clock.now?.fades;
      const how = this.clock.advance(count);
      if (how === 'turned') this.slow.jump();
      if (how === 'turned' && fades) this.fade = 0;
      if (how === 'ended' || (this.stopping && this.fade <= 0)) this.playing = false;
    }
    this.click.render(left, right, this.mix.split);
    return this.playing;
  }

  private renderStretch(left: Float32Array, right: Float32Array, offset: number, count: number) {
    const { position, speed, now } = this.clock;
    if (this.scratch[0].length < count) this.scratch = [new Float32Array(count), new Float32Array(count)];
    const [a, b] = this.scratch;
    if (speed === 1) this.readVoices(a, b, position, count);
    else this.slow.read(a, b, count, position, speed);
    if (now?.joins && speed === 1) this.joinTurn(now.end, a, b, count);
    const gain = Math.min(1, 1 - this.mix.balance);
    const fadesAt = now?.fades ? now.end - FADE_FRAMES : Infinity;
    for (let i = 0; i < count; i++) {
      this.fade = Math.max(0, Math.min(FADE_FRAMES, this.fade + (this.stopping ? -1 : 1)));
      const at = position + i * speed;
      if (at < this.audibleFrom) continue;
      let g = (gain * this.fade) / FADE_FRAMES;
      if (at >= fadesAt) g *= Math.max(0, now!.end - at) / FADE_FRAMES;
      if (this.mix.split) left[offset + i] += g * 0.5 * (a[i] + b[i]);
      else {
        left[offset + i] += g * a[i];
        right[offset + i] += g * b[i];
      }
    }
    if (!this.stopping) this.click.begin(this.clock, offset, count, this.mix);
  }

  /** Over the last frames before a turn at `end` what stands before the next leg comes in, so that nothing breaks off there. */
  private joinTurn(end: number, a: Float32Array, b: Float32Array, count: number) {
    const { position, following } = this.clock;
    const first = Math.max(0, end - FADE_FRAMES - position);
    if (first >= count || !following) return;
    const [left, right] = [new Float32Array(count - first), new Float32Array(count - first)];
    this.readVoices(left, right, following.start - (end - position - first), count - first, true);
    for (let i = first; i < count; i++) {
      const share = 1 - (end - position - i - 0.5) / FADE_FRAMES;
      a[i] += share * (left[i - first] - a[i]);
      b[i] += share * (right[i - first] - b[i]);
    }
  }

  private readVoices(left: Float32Array, right: Float32Array, from: number, count: number, leadsIn = false) {
    left.fill(0, 0, count);
    right.fill(0, 0, count);
    for (const voice of this.voices.values()) voice.addTo(left, right, from, count, leadsIn);
  }
}
