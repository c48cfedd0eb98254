import { byteReader, type ByteReader, type OpenBytes } from './byteReader';
import {
  UndecodableError,
  type AudioFormat,
  type DecodedSummary,
  type DecodeOptions,
  type PcmSink,
} from './audioFormat';
import { decodeAiff } from './aiff';
import { decodeMidi } from './midiSound';
import { SNIFF_BYTES, sniffType } from './sniff';
import { decodeWave } from './wave';
import { silenceAbsurd } from '../signal/pcm';

export interface AudioOptions extends Pick<DecodeOptions, 'md5'> {
  /** Bytes of the file, so that what is too long can be refused before it is decoded. */
  byteLength?: number;
}

/** What is longer is not read: nothing that is measured, cut or blended is. */
export const LONGEST_SECONDS = 3 * 3600;
/** No audio takes fewer bytes a second, and silence as FLAC hardly more; a file that claims more time for its bytes is damaged, not long. */
const FEWEST_BYTES_PER_SECOND = 100;
/** More of these than this share, and the numbers of a file are none of sound. */
const MOST_ABSURD = 0.01;

/**
 * Decodes any open format that Grento reads, told by content, and hands the PCM to `sink` block by block. Hardly any
 * file is opened twice.
 * The same decoders run in Node and in the browser, so that a time in seconds is the same sample on both
 * sides; an encoder's delay and padding are removed where the file states them. What is damaged costs itself and is
 * told: silence stands for it, so that nothing behind it moves. NaN, infinite and absurd samples become silence and
 * are mentioned. Throws UndecodableError with a sentence for the user.
 */
export async function decodeAudio(
  open: OpenBytes,
  sink: PcmSink,
  options: AudioOptions = {},
): Promise<DecodedSummary> {
  const readers: ByteReader[] = [];
  const read = () => {
    const reader = byteReader(open());
    readers.push(reader);
    return reader;
  };
  try {
    return await decodeFrom(read, sink, options);
  } finally {
    // Also where it ends before the bytes do, as a damaged file's decoding does.
    for (const reader of readers) await reader.close();
  }
}

async function decodeFrom(
  read: () => ByteReader,
  sink: PcmSink,
  { md5, byteLength = 0 }: AudioOptions,
): Promise<DecodedSummary> {
  const reader = read();
  const sniffed = sniffType(await reader.peek(SNIFF_BYTES));
  if (sniffed.format === 'other')
    throw new UndecodableError(`This is not audio that Grento reads: it looks like ${sniffed.looksLike}.`);
  let broken = 0;
  let frames = 0;
  let values = 0;
  const cleanSink: PcmSink = (block, sampleRate) => {
    for (const channel of block) broken += silenceAbsurd(channel);
    frames += block[0].length;
    values += block[0].length * block.length;
    if (frames > LONGEST_SECONDS * sampleRate) throw tooLong(null);
    sink(block, sampleRate);
  };
  const onClaim = (seconds: number | null) => {
    if (seconds !== null && seconds > LONGEST_SECONDS && byteLength >= seconds * FEWEST_BYTES_PER_SECOND)
      throw tooLong(seconds);
  };
  const summary = await decodeAs(sniffed.format, reader, read, cleanSink, { md5, onClaim, byteLength });
  const format = FORMAT_NAMES[summary.format];
  if (summary.frames === 0)
    throw new UndecodableError(`No audio could be decoded from this ${format} file; it is damaged or empty.`);
  if (broken > MOST_ABSURD * values)
    throw new UndecodableError(
      `The numbers in this ${format} file are no sound: ${Math.round((100 * broken) / values)} % of them are no numbers, or far too large.`,
    );
  if (broken > 0) summary.warnings.push(`${broken} samples were not numbers of sound and are silent now.`);
  return summary;
}

const FORMAT_NAMES: Record<AudioFormat, string> = {
  wav: 'WAV',
  aiff: 'AIFF',
  flac: 'FLAC',
  mp3: 'MP3',
  'ogg-vorbis': 'Ogg Vorbis',
  'ogg-opus': 'Ogg Opus',
  'ogg-flac': 'Ogg FLAC',
  mp4: 'MP4',
  midi: 'MIDI',
};

/** For what is longer than what is read; `seconds`: as it says itself, null where it only went on and on. */
export function tooLong(seconds: number | null): UndecodableError {
  const hours = LONGEST_SECONDS / 3600;
  const says =
    seconds === null ? `goes on for more than ${hours} hours` : `lasts ${(seconds / 3600).toFixed(1)} hours`;
  return new UndecodableError(`It ${says}; up to ${hours} are read. Cut it before it is taken in.`);
}

async function decodeAs(
  format: AudioFormat,
  reader: ByteReader,
  again: () => ByteReader,
  sink: PcmSink,
  options: DecodeOptions,
): Promise<DecodedSummary> {
  switch (format) {
    case 'wav':
      return decodeWave(reader, sink, options);
    case 'aiff':
      return decodeAiff(reader, sink, again, options);
    case 'midi':
      return decodeMidi(reader, sink);
    case 'mp4':
      throw new UndecodableError('MP4 audio is decoded from its listening copy, which is not made yet.');
    // Each decoder is fetched only where something is for it.
    case 'flac':
      return (await import('./decodeFlac')).decodeFlac(reader, sink, options);
    case 'ogg-flac':
      return (await import('./decodeFlac')).decodeOggFlac(reader, sink, options);
    case 'mp3':
      return (await import('./decodeMpeg')).decodeMpeg(reader, again, sink, options);
    case 'ogg-vorbis':
    case 'ogg-opus':
      return (await import('./decodeOgg')).decodeOgg(format, reader, sink);
  }
}
