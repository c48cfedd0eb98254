/**
 * The containers and encodings that Grento reads. MP4 (with AAC) is decoded by a program on the server, which
 * leaves a lossless listening copy; the others are decoded alike on the server and in the page. A MIDI
 * performance is played on instruments of our own.
 */
export const AUDIO_FORMATS = [
  'wav',
  'aiff',
  'flac',
  'mp3',
  'ogg-vorbis',
  'ogg-opus',
  'ogg-flac',
  'mp4',
  'midi',
] as const;
export type AudioFormat = (typeof AUDIO_FORMATS)[number];

/** What the content of a file says that it is. `other` holds a plain description for the user. */
export type SniffedType = { format: AudioFormat } | { format: 'other'; looksLike: string };

/** Media type sent with the bytes of an original. */
export const MEDIA_TYPES: Record<AudioFormat, string> = {
  wav: 'audio/wav',
  aiff: 'audio/aiff',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  'ogg-vorbis': 'audio/ogg',
  'ogg-opus': 'audio/ogg',
  'ogg-flac': 'audio/ogg',
  mp4: 'audio/mp4',
  midi: 'audio/midi',
};

/** What the decoder hands over as it goes: channel arrays of one length, valid until it returns. */
export type PcmSink = (block: Float32Array[], sampleRate: number) => void;

/** A stretch of a file that could not be decoded: silence stands for it, or it is missing at the end. */
export interface Lost {
  from: number;
  seconds: number;
}

export interface DecodedSummary {
  format: AudioFormat;
  sampleRate: number;
  channels: number;
  frames: number;
  /** Whether it is known that nothing in it has a pitch. */
  unpitched?: boolean;
  /** Where silence stands for what could not be decoded. */
  lost?: Lost[];
  /** Seconds that the file says it has; null where it says nothing. */
  claimed?: number | null;
  /** What was odd but did not prevent decoding, in sentences for the user. */
  warnings: string[];
}

export interface DecodeOptions {
  /** Makes an MD5 sum, where what a file says of its own is to be checked. */
  md5?: () => { update(bytes: Uint8Array): void; digest(): string };
  /** Gets the seconds that a file says it has, null where it says nothing, before any is decoded; may throw. */
  onClaim?: (seconds: number | null) => void;
  /** Bytes of the file; 0 where they are not known. */
  byteLength?: number;
}

/** The file cannot be decoded; the message is a sentence for the user. */
export class UndecodableError extends Error {
  override name = 'UndecodableError';
}
