import { decodeSample, type DecodedAudio } from './decodedAudio';
import type { Held } from './soundCache';

/** Audio is played where it is decoded so far ahead, and waits where less than a third of that is left. */
const SPARE_SECONDS = 0.6;

/** Told while a sample is being opened; nothing is told any more once it is closed. */
export interface OpeningEvents {
  /** It can be heard, as far as it is decoded. Comes again where the length was not what it was said to be. */
  onPlayable: (channels: Float32Array[]) => void;
  /** More of it is decoded; gets the share of the file. */
  onMore: (loaded: number) => void;
  /** It cannot be decoded; gets a sentence for the user. */
  onFault: (fault: string) => void;
}

/** The audio of one sample: what can be played of it while the rest is still being decoded. */
export class OpenSample implements Held {
  /** What the audio thread plays from: all of its memory, filled from the beginning. */
  channels: Float32Array[] | null = null;
  durationSeconds = 0;
  loaded = 0;
  fault: string | null = null;
  /** All of it, once it is decoded. */
  audio: DecodedAudio | null = null;
  /** Resolves when it can be heard; to false when it was closed before or cannot be decoded. */
  readonly ready: Promise<boolean>;
  /** Resolves when all of it is decoded; to null when it was closed before or cannot be decoded. */
  readonly whole: Promise<DecodedAudio | null>;
  private readonly opening = new AbortController();
  private readonly listeners = new Set<OpeningEvents>();
  private isReady: (ready: boolean) => void = () => {};
  private decodedSeconds = 0;

  /** `seconds`: its length where it is known; then it can be heard while the rest is being decoded. */
  constructor(
    readonly sampleId: string,
    seconds: number | null,
    rate: number,
  ) {
    this.ready = new Promise((resolve) => (this.isReady = resolve));
    this.whole = this.get(seconds, rate).finally(() => this.isReady(false));
  }

  /** Tells of what is there, and then of what comes. Returns what ends it. */
  listen(events: OpeningEvents): () => void {
    this.listeners.add(events);
    if (this.channels) events.onPlayable(this.channels);
    if (this.loaded > 0) events.onMore(this.loaded);
    if (this.fault) events.onFault(this.fault);
    return () => void this.listeners.delete(events);
  }

  /** Nobody needs it any more: what is not decoded by now will not be. */
  close() {
    this.opening.abort();
    this.listeners.clear();
  }

  /** Memory that it takes, bytes. */
  get bytes(): number {
    // Where the rates agree both are one memory.
    const own = this.audio && this.audio.sampleRate !== this.audio.playRate ? this.audio.channels : [];
    const peaks = this.audio?.peaks.levels.flatMap(({ min, max }) => [min, max]) ?? [];
    return [...(this.channels ?? []), ...own, ...peaks].reduce((sum, { byteLength }) => sum + byteLength, 0);
  }

  get isWhole(): boolean {
    return this.audio !== null;
  }

  /** How many frames of `channels` are decoded, from the first. */
  get decodedFrames(): number {
    const frames = this.channels?.[0].length ?? 0;
    return this.durationSeconds > 0
      ? Math.min(frames, Math.floor((this.decodedSeconds / this.durationSeconds) * frames))
      : 0;
  }

  /** Whether what sounds from a time on is decoded, with a little more. */
  isThere(time: number): boolean {
    return (
      this.channels !== null && this.decodedSeconds >= Math.min(this.durationSeconds, time + SPARE_SECONDS)
    );
  }

  /** Whether a time is near to where nothing is decoded yet. */
  runsOut(time: number): boolean {
    return this.decodedSeconds < Math.min(this.durationSeconds, time + SPARE_SECONDS / 3);
  }

  private async get(seconds: number | null, rate: number): Promise<DecodedAudio | null> {
    const { signal } = this.opening;
    try {
      const audio = await decodeSample(
        this.sampleId,
        rate,
        {
          durationSeconds: seconds,
          onBegun: (channels) => this.begin(channels, channels[0].length / rate),
          onProgress: (loaded, decodedSeconds) => this.more(loaded, decodedSeconds),
        },
        signal,
      );
      if (signal.aborted) return null;
      this.audio = audio;
      // The length was not what it was said to be, or memory cannot be shared.
      if (this.channels !== audio.playChannels) this.begin(audio.playChannels, audio.durationSeconds);
      this.more(1, Infinity);
      return audio;
    } catch (error) {
      if (signal.aborted) return null;
      this.fault = error instanceof Error ? error.message : String(error);
      for (const { onFault } of [...this.listeners]) onFault(this.fault);
      return null;
    }
  }

  private begin(channels: Float32Array[], durationSeconds: number) {
    if (this.opening.signal.aborted) return;
    this.channels = channels;
    this.durationSeconds = durationSeconds;
    for (const { onPlayable } of [...this.listeners]) onPlayable(channels);
    this.isReady(true);
  }

  private more(loaded: number, decodedSeconds: number) {
    if (this.opening.signal.aborted) return;
    if (this.channels) this.decodedSeconds = decodedSeconds;
    this.loaded = loaded;
    for (const { onMore } of [...this.listeners]) onMore(loaded);
  }
}
