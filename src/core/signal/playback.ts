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

/** Places of the clicks in frames of the audio, rising, and which of them are accented. */
export interface ClickTrack {
  frames: Float64Array;
  accents: Uint8Array;
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
  private loop: { start: number; end: number } | null = null;
  private clicks: ClickTrack = { frames: new Float64Array(0), accents: new Uint8Array(0) };
  private voices: ClickVoices = { plain: new Float32Array(0), accented: new Float32Array(0) };
  private mix: ClickMix = { on: true, level: 1, accent: true, balance: 0, split: false };
  private sounding: { samples: Float32Array; at: number; gain: number }[] = [];
  /** Audio fades over this many frames at starts and stops, so that they do not crack. */
  private readonly fadeFrames = 64;
  private fade = 0;
  private stopping = false;

  load(channels: readonly Float32Array[]) {
    this.channels = channels;
    this.length = channels[0]?.length ?? 0;
    this.playing = false;
    this.loop = null;
    this.position = 0;
    this.sounding = [];
  }

  /** Plays from `position` on; audio before `audibleFrom` is silent (count-in). */
  start(position: number, audibleFrom = -Infinity) {
    this.position = Math.round(position);
    this.audibleFrom = audibleFrom;
    this.playing = this.length > 0;
    this.stopping = false;
    this.fade = 0;
    this.sounding = [];
  }

  stop() {
    this.stopping = true;
  }

  setLoop(loop: { start: number; end: number } | null) {
    const rounded = loop && { start: Math.round(loop.start), end: Math.round(loop.end) };
    this.loop = rounded && rounded.end - rounded.start >= 32 ? rounded : null;
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
      const turn =
        this.loop && this.position < this.loop.end ? this.loop.end : Math.max(this.length, this.position);
      const count = Math.min(left.length - done, turn - this.position);
      if (count > 0) this.renderStretch(left, right, done, count);
      done += count;
      this.position += count;
      if (this.loop && this.position === this.loop.end) this.position = this.loop.start;
      else if (this.position >= this.length) this.playing = false;
      if (this.stopping && this.fade <= 0) this.playing = false;
    }
    this.renderClicks(left, right, left.length);
    return this.playing;
  }

  private renderStretch(left: Float32Array, right: Float32Array, offset: number, count: number) {
    const a = this.channels[0];
    const b = this.channels[1] ?? a;
    const gain = Math.min(1, 1 - this.mix.balance);
    for (let i = 0; i < count; i++) {
      this.fade = Math.max(0, Math.min(this.fadeFrames, this.fade + (this.stopping ? -1 : 1)));
      const at = this.position + i;
      if (at < 0 || at >= this.length || at < this.audibleFrom) continue;
      const g = (gain * this.fade) / this.fadeFrames;
      if (this.mix.split) left[offset + i] += g * 0.5 * (a[at] + b[at]);
      else {
        left[offset + i] += g * a[at];
        right[offset + i] += g * b[at];
      }
    }
    if (!this.mix.on || this.stopping) return;
    const { frames, accents } = this.clicks;
    for (let k = firstNotBefore(frames, this.position - 0.5); k < frames.length; k++) {
      const at = Math.round(frames[k]) - this.position;
      if (at >= count) break;
      const accented = this.mix.accent && accents[k] === 1;
      this.sounding.push({
        samples: accented ? this.voices.accented : this.voices.plain,
        at: -(offset + at),
        gain: this.mix.level * Math.min(1, 1 + this.mix.balance) * 0.6,
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
