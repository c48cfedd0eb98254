import { CLICK_KINDS } from './clickTrack';
import { SlowReader } from './slowReader';

const CLICK_GAIN = 0.6;
const SOFT_GAIN = 0.25;

/** What the click sounds like and how loud it is against the audio. */
export interface ClickMix {
  on: boolean;
  /** 0 … 2, linear. */
  level: number;
  accent: boolean;
  /** −1: audio only, 0: both in full, 1: click only. */
  balance: number;
  /** Audio in the left ear, click in the right one. */
  split: boolean;
}

/** Places of the clicks in frames of the audio, rising, and how each sounds: 0 plain, 1 accented, 2 soft. */
export interface ClickTrack {
  frames: Float64Array;
  accents: Uint8Array;
}

/** One leg of what goes round, frames or seconds. */
export interface Leg {
  start: number;
  end: number;
  /** The turn at its end is none that is to be heard: the audio fades out before it. */
  fades?: boolean;
}

/** Samples of the two click sounds. */
export interface ClickVoices {
  plain: Float32Array;
  accented: Float32Array;
}

/**
 * Plays audio and mixes a click into it, sample by sample: a click that stands at frame n sounds exactly
 * with frame n of the audio, also over the turn of a loop and when the grid is changed while it plays.
 * The state has a life of its own, hence a class; it knows nothing of the browser.
 */
export class Playback {
  playing = false;
  /** The next frame of the audio to be played; negative during a count-in. */
  position = 0;
  private channels: readonly Float32Array[] = [];
  private length = 0;
  private audibleFrom = -Infinity;
  private route: Leg[] = [];
  /** The leg that is being played; −1 when what is played lies behind all of them. */
  private leg = -1;
  private clicks: ClickTrack = { frames: new Float64Array(0), accents: new Uint8Array(0) };
  private voices: ClickVoices = { plain: new Float32Array(0), accented: new Float32Array(0) };
  private mix: ClickMix = { on: true, level: 1, accent: true, balance: 0, split: false };
  private sounding: { samples: Float32Array; at: number; gain: number }[] = [];
  /** Audio fades over this many frames at starts and stops, so that they do not crack. */
  private readonly fadeFrames = 64;
  private fade = 0;
  private stopping = false;
  private speed = 1;
  private readonly slow = new SlowReader();
  private readonly slowOut = [new Float32Array(512), new Float32Array(512)];

  load(channels: readonly Float32Array[]) {
    this.channels = channels;
    this.length = channels[0]?.length ?? 0;
    this.playing = false;
    this.route = [];
    this.position = 0;
    this.sounding = [];
    this.slow.load(channels);
  }

  /** Plays from `position` on; audio before `audibleFrom` is silent (count-in). */
  start(position: number, audibleFrom = -Infinity) {
    this.position = Math.round(position);
    this.audibleFrom = audibleFrom;
    this.playing = this.length > 0;
    this.stopping = false;
    this.fade = 0;
    this.sounding = [];
    this.slow.reset();
    this.findLeg();
  }

  /** Frames of audio per frame that is heard, at most 1; the pitch stays. */
  setSpeed(speed: number) {
    if (!(speed > 0 && speed <= 1)) throw new RangeError(`a speed of ${speed} is none`);
    this.speed = speed;
    this.slow.reset();
  }

  /** Attacks, in frames, that stay exactly in place when the audio is heard slowly. */
  setHits(hits: Float64Array) {
    this.slow.setHits(hits);
  }

  stop() {
    this.stopping = true;
  }

  /**
   * The legs that are played one after the other, again and again; none: straight on to the end. A position
   * before a leg plays into it, one behind all of them plays on.
   */
  setRoute(route: readonly Leg[]) {
    const legs = route.map((leg) => ({ ...leg, start: Math.round(leg.start), end: Math.round(leg.end) }));
    this.route = legs.every(({ start, end }) => end - start >= 32) ? legs : [];
    this.findLeg();
  }

  private findLeg() {
    const { position } = this;
    const inside = this.route.findIndex(({ start, end }) => position >= start && position < end);
    this.leg = inside >= 0 ? inside : this.route.findIndex(({ end }) => position < end);
  }

  setClicks(clicks: ClickTrack) {
    this.clicks = clicks;
  }

  setVoices(voices: ClickVoices) {
    this.voices = voices;
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
      const leg = this.route[this.leg];
      const turn = leg ? leg.end : Math.max(this.length, this.position);
      const { speed } = this;
      const count = Math.min(left.length - done, Math.ceil((turn - this.position) / speed - 1e-9));
      if (count > 0) this.renderStretch(left, right, done, count);
      done += count;
      this.position += count * speed;
      if (leg && this.position >= leg.end - 1e-6) {
        this.leg = (this.leg + 1) % this.route.length;
        this.position = this.route[this.leg].start + (this.position - leg.end);
        if (leg.fades) this.fade = 0;
      } else if (this.position >= this.length) this.playing = false;
      if (this.stopping && this.fade <= 0) this.playing = false;
    }
    this.renderClicks(left, right, left.length);
    return this.playing;
  }

  private renderStretch(left: Float32Array, right: Float32Array, offset: number, count: number) {
    const { speed } = this;
    let [a, b] = [this.channels[0], this.channels[1] ?? this.channels[0]];
    // Index in a and b of the first frame.
    let first = this.position;
    if (speed !== 1) {
      for (const [c, out] of this.slowOut.entries())
        if (out.length < count) this.slowOut[c] = new Float32Array(count);
      this.slow.read(this.slowOut, 0, count, this.position, speed);
      [a, b] = this.slowOut;
      first = 0;
    }
    const gain = Math.min(1, 1 - this.mix.balance);
    const leg = this.route[this.leg];
    const fadesAt = leg?.fades ? leg.end - this.fadeFrames : Infinity;
    for (let i = 0; i < count; i++) {
      this.fade = Math.max(0, Math.min(this.fadeFrames, this.fade + (this.stopping ? -1 : 1)));
      const at = this.position + i * speed;
      if (at < 0 || at >= this.length || at < this.audibleFrom) continue;
      let g = (gain * this.fade) / this.fadeFrames;
      if (at >= fadesAt) g *= Math.max(0, leg.end - at) / this.fadeFrames;
      const k = first + i;
      if (this.mix.split) left[offset + i] += g * 0.5 * (a[k] + b[k]);
      else {
        left[offset + i] += g * a[k];
        right[offset + i] += g * b[k];
      }
    }
    if (!this.mix.on || this.stopping) return;
    const { frames, accents } = this.clicks;
    for (let k = firstNotBefore(frames, this.position - 0.5 * speed); k < frames.length; k++) {
      const at = Math.round((frames[k] - this.position) / speed);
      if (at >= count) break;
      const accented = this.mix.accent && accents[k] === CLICK_KINDS.accented;
      this.sounding.push({
        samples: accented ? this.voices.accented : this.voices.plain,
        at: -(offset + at),
        gain:
          this.mix.level *
          Math.min(1, 1 + this.mix.balance) *
          (accents[k] === CLICK_KINDS.soft ? SOFT_GAIN : CLICK_GAIN),
      });
    }
  }

  private renderClicks(left: Float32Array, right: Float32Array, count: number) {
    for (const voice of this.sounding) {
      for (let i = Math.max(0, -voice.at); i < count && voice.at + i < voice.samples.length; i++) {
        const value = voice.gain * voice.samples[voice.at + i];
        if (!this.mix.split) left[i] += value;
        right[i] += value;
      }
      voice.at += count;
    }
    this.sounding = this.sounding.filter((voice) => voice.at < voice.samples.length);
  }
}

function firstNotBefore(values: Float64Array, x: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] < x) low = middle + 1;
    else high = middle;
  }
  return low;
}
