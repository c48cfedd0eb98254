import { byteReader, type ByteReader, type OpenBytes } from './byteReader';
import { UndecodableError, type AudioFormat, type DecodedSummary, type PcmSink } from './audioFormat';
import { decodeAiff } from './aiff';
import { decodeMidi } from './midiSound';
import { SNIFF_BYTES, sniffType } from './sniff';
import { decodeWave } from './wave';
import { silenceNonFinite } from '../signal/pcm';

/** A decoder of the wasm family: bytes in, the frames that they complete out. */
interface BlockDecoder {
  ready: Promise<void>;
  decode(bytes: Uint8Array): DecodedBlock | Promise<DecodedBlock>;
  flush?(): DecodedBlock | Promise<DecodedBlock>;
  free(): void;
}

interface DecodedBlock {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
  /** Bits of the stored samples, where the decoder tells. */
  bitDepth?: number;
  errors: { message: string }[];
}

type CompressedFormat = Exclude<AudioFormat, 'wav' | 'aiff' | 'mp4' | 'midi'>;

const decoders: Record<CompressedFormat, () => Promise<BlockDecoder>> = {
  mp3: async () => new (await import('mpg123-decoder')).MPEGDecoder({ enableGapless: true }),
  flac: async () => new (await import('@wasm-audio-decoders/flac')).FLACDecoder(),
  'ogg-flac': async () => new (await import('@wasm-audio-decoders/flac')).FLACDecoder(),
  'ogg-vorbis': async () => new (await import('@wasm-audio-decoders/ogg-vorbis')).OggVorbisDecoder(),
  'ogg-opus': async () => new (await import('ogg-opus-decoder')).OggOpusDecoder(),
};

const BLOCK_BYTES = 64 * 1024;

/**
 * Decodes any open format that Grento reads, told by content, and hands the PCM to `sink` block by block. Hardly any
 * file is opened twice.
 * The same decoders run in Node and in the browser, so that a time in seconds is the same sample on both
 * sides; an encoder's delay and padding are removed where the file states them. NaN and infinite samples
 * become silence and are mentioned. Throws UndecodableError with a sentence for the user.
 */
export async function decodeAudio(open: OpenBytes, sink: PcmSink): Promise<DecodedSummary> {
  const readers: ByteReader[] = [];
  const read = () => {
    const reader = byteReader(open());
    readers.push(reader);
    return reader;
  };
  try {
    return await decodeFrom(read, sink);
  } finally {
    // Also where it ends before the bytes do, as a damaged file's decoding does.
    for (const reader of readers) await reader.close();
  }
}

async function decodeFrom(read: () => ByteReader, sink: PcmSink): Promise<DecodedSummary> {
  const reader = read();
  const sniffed = sniffType(await reader.peek(SNIFF_BYTES));
  if (sniffed.format === 'other')
    throw new UndecodableError(`This is not audio that Grento reads: it looks like ${sniffed.looksLike}.`);
  let broken = 0;
  const cleanSink: PcmSink = (block, sampleRate) => {
    for (const channel of block) broken += silenceNonFinite(channel);
    sink(block, sampleRate);
  };
  const summary = await decodeAs(sniffed.format, reader, read, cleanSink);
  if (summary.frames === 0)
    throw new UndecodableError(
      `No audio could be decoded from this ${sniffed.format.toUpperCase()} file; it is damaged or empty.`,
    );
  if (broken > 0) summary.warnings.push(`${broken} samples were not numbers and are silent now.`);
  return summary;
}

function decodeAs(
  format: AudioFormat,
  reader: ByteReader,
  again: () => ByteReader,
  sink: PcmSink,
): Promise<DecodedSummary> {
  if (format === 'wav') return decodeWave(reader, sink);
  if (format === 'aiff') return decodeAiff(reader, sink, again);
  if (format === 'midi') return decodeMidi(reader, sink);
  if (format === 'mp4')
    throw new UndecodableError('MP4 audio is decoded from its listening copy, which is not made yet.');
  return decodeCompressed(format, reader, sink);
}

async function decodeCompressed(
  format: CompressedFormat,
  reader: ByteReader,
  sink: PcmSink,
): Promise<DecodedSummary> {
  const decoder = await decoders[format]();
  await decoder.ready;
  const summary: DecodedSummary = { format, sampleRate: 0, channels: 0, frames: 0, warnings: [] };
  const lossless = format === 'flac' || format === 'ogg-flac';
  let damagedBlocks = 0;
  const hand = (block: DecodedBlock) => {
    damagedBlocks += block.errors.length;
    const channels = block.channelData.length;
    if (block.samplesDecoded === 0 || channels === 0) return;
    if (summary.frames === 0) {
      summary.sampleRate = block.sampleRate;
      summary.channels = channels;
    } else if (block.sampleRate !== summary.sampleRate || channels !== summary.channels) {
      throw new UndecodableError('The file changes its sample rate or channel count midway.');
    }
    summary.frames += block.samplesDecoded;
    if (lossless && block.bitDepth)
      for (const channel of block.channelData) toPowerOfTwoScale(channel, block.bitDepth);
    sink(
      block.channelData.map((channel) => channel.subarray(0, block.samplesDecoded)),
      block.sampleRate,
    );
  };
  try {
    for (;;) {
      const bytes = await reader.readSome(BLOCK_BYTES);
      if (bytes.length === 0) break;
      hand(await decoder.decode(bytes));
    }
    if (decoder.flush) hand(await decoder.flush());
  } finally {
    decoder.free();
  }
  if (damagedBlocks > 0)
    summary.warnings.push(`${damagedBlocks} damaged places were passed over while decoding.`);
  return summary;
}

/**
 * The FLAC decoder divides by the largest positive value; everything else here by the power of two above
 * it. Brings its samples to the same scale, so that a FLAC and its WAV are the same audio, sample by sample.
 */
function toPowerOfTwoScale(channel: Float32Array, bits: number) {
  const full = 2 ** (bits - 1);
  for (let i = 0; i < channel.length; i++) channel[i] = Math.round(channel[i] * (full - 1)) / full;
}
