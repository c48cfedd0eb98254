import { decodeSample, type DecodedAudio } from './decodedAudio';

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
export class OpenSample {
  /** What the audio thread plays from: all of its memory, filled from the beginning. */
  channels: Float32Array[] | null = null;
  durationSeconds = 0;
  /** All of it, once it is decoded. */
  audio: DecodedAudio | null = null;
  /** Resolves when it can be heard; to false when it was closed before or cannot be decoded. */
  readonly ready: Promise<boolean>;
  /** Resolves when all of it is decoded; to null when it was closed before or cannot be decoded. */
  readonly whole: Promise<DecodedAudio | null>;
  private readonly opening = new AbortController();
  private isReady: (ready: boolean) => void = () => {};
  private decodedSeconds = 0;

  /** `seconds`: its length where it is known; then it can be heard while the rest is being decoded. */
  constructor(
    readonly sampleId: string,
    seconds: number | null,
    rate: Promise<number>,
    private readonly events: OpeningEvents,
  ) {
    this.ready = new Promise((resolve) => (this.isReady = resolve));
    this.whole = this.get(seconds, rate).finally(() => this.isReady(false));
  }

  close() {
    this.opening.abort();
  }

  /** Whether what sounds from a time on is decoded, with a little more. */
  isThere(time: number): boolean {
    return this.decodedSeconds >= Math.min(this.durationSeconds, time + SPARE_SECONDS);
  }

  /** Whether a time is near to where nothing is decoded yet. */
  runsOut(time: number): boolean {
    return this.decodedSeconds < Math.min(this.durationSeconds, time + SPARE_SECONDS / 3);
  }

  private async get(seconds: number | null, rateOf: Promise<number>): Promise<DecodedAudio | null> {
    const { signal } = this.opening;
    try {
      const rate = await rateOf;
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
      // The length was not what it was said to be, or the sample was kept from before.
      if (this.channels !== audio.playChannels) this.begin(audio.playChannels, audio.durationSeconds);
      this.more(1, Infinity);
      return audio;
    } catch (error) {
      if (!signal.aborted) this.events.onFault(error instanceof Error ? error.message : String(error));
      return null;
    }
  }

  private begin(channels: Float32Array[], durationSeconds: number) {
    if (this.opening.signal.aborted) return;
    this.channels = channels;
    this.durationSeconds = durationSeconds;
    this.events.onPlayable(channels);
    this.isReady(true);
  }

  private more(loaded: number, decodedSeconds: number) {
    if (this.opening.signal.aborted) return;
    if (this.channels) this.decodedSeconds = decodedSeconds;
    this.events.onMore(loaded);
  }
}
