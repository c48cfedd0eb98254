import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { UndecodableError, type DecodeOptions, type DecodedSummary, type PcmSink } from './audioFormat';
import { orNull } from './blockDecoder';
import type { ByteReader } from './byteReader';
import { INFO_BYTES, flacFrames, flacInfo, frameHeaderAt, framePlaces, isWholeFrame } from './flacFrames';
import type { FlacFrame, FlacInfo } from './flacFrames';
import { id3Bytes, isId3 } from './id3';
import { oggPages, packetsOf } from './oggPages';
import { brokenOff, lostWords, placing } from './placing';
import { windowOf } from './window';

const TOLD_DIFFERENT =
  'The sound is not what its encoder wrote: the checksum of the whole differs, though each part is right.';

/**
 * Decodes FLAC frame by frame (RFC 9639): a damaged frame costs itself, and silence stands for it. Throws
 * UndecodableError with a sentence for the user.
 */
export async function decodeFlac(
  reader: ByteReader,
  sink: PcmSink,
  options: DecodeOptions,
): Promise<DecodedSummary> {
  const window = windowOf(reader);
  await window.has(10);
  if (isId3(window.bytes, 0)) {
    const tag = id3Bytes(window.bytes, 0);
    if (await window.has(tag)) window.drop(tag);
  }
  await window.has(8 + INFO_BYTES);
  // STREAMINFO comes first; other blocks are passed over with whatever else is no frame.
  const info = flacInfo(window.bytes.subarray(8, 8 + INFO_BYTES));
  window.drop(Math.min(window.bytes.length, 8 + INFO_BYTES));
  return decodeFrames('flac', info, flacFrames(window, info), sink, options);
}

/** The same in Ogg, where every packet is a frame. */
export async function decodeOggFlac(
  reader: ByteReader,
  sink: PcmSink,
  options: DecodeOptions,
): Promise<DecodedSummary> {
  const pages = oggPages(windowOf(reader));
  const first = await pages.next();
  const packet = first.done ? new Uint8Array(0) : packetsOf(first.value, [])[0];
  // "\x7fFLAC", version, number of headers, "fLaC", a block header.
  if (!packet || String.fromCharCode(...packet.subarray(1, 5)) !== 'FLAC')
    throw new UndecodableError('The beginning of this Ogg FLAC file is damaged.');
  const info = flacInfo(packet.subarray(17));
  const end = { isClosed: first.value!.isLast };
  const frames = framesOfPages(pages, first.value!.serial, info, end);
  const summary = await decodeFrames('ogg-flac', info, frames, sink, options);
  if (!end.isClosed && summary.warnings.length === 0) summary.warnings.push(brokenOff(summary));
  return summary;
}

async function* framesOfPages(
  pages: ReturnType<typeof oggPages>,
  serial: number,
  info: FlacInfo,
  end: { isClosed: boolean },
): AsyncGenerator<FlacFrame> {
  const placeOf = framePlaces();
  const held: Uint8Array[] = [];
  let expected = 1;
  for await (const page of pages) {
    if (page.serial !== serial) continue;
    if (page.sequence !== expected) held.splice(0);
    expected = page.sequence + 1;
    end.isClosed = page.isLast;
    for (const bytes of packetsOf(page, held)) {
      const header = frameHeaderAt(bytes, 0, info);
      if (header && isWholeFrame(bytes, 0, bytes.length))
        yield { bytes, at: placeOf(header), blockSize: header.blockSize };
    }
  }
}

async function decodeFrames(
  format: 'flac' | 'ogg-flac',
  info: FlacInfo,
  frames: AsyncIterable<FlacFrame>,
  sink: PcmSink,
  { md5, onClaim }: DecodeOptions,
): Promise<DecodedSummary> {
  const { sampleRate, channels, bits } = info;
  onClaim?.(info.frames === null ? null : info.frames / sampleRate);
  const decoder = new FLACDecoder();
  await decoder.ready;
  const sum = info.md5 && md5 ? md5() : null;
  const places = placing(sink, sampleRate, channels);
  try {
    for await (const frame of frames) {
      // One that misses a frame says so in the log; a fresh one knows of none.
      if (frame.at !== places.frames) await decoder.reset();
      const decoded = await orNull(() => decoder.decodeFrames([frame.bytes]));
      if (!decoded || decoded.samplesDecoded !== frame.blockSize || decoded.channelData.length !== channels)
        continue;
      for (const channel of decoded.channelData) toPowerOfTwoScale(channel, bits);
      sum?.update(interleaved(decoded.channelData, bits));
      places.place(decoded.channelData, frame.at);
    }
  } finally {
    decoder.free();
  }
  const claimed = info.frames === null ? null : info.frames / sampleRate;
  const warnings = lostWords(places.lost, places.frames / sampleRate, claimed);
  if (warnings.length === 0 && places.frames > 0 && sum && sum.digest() !== info.md5)
    warnings.push(TOLD_DIFFERENT);
  return { format, sampleRate, channels, frames: places.frames, lost: places.lost, claimed, warnings };
}

/**
 * The decoder divides by the largest positive value; everything else here by the power of two above it. Brings its
 * samples to the same scale, so that a FLAC and its WAV are the same audio, sample by sample.
 */
function toPowerOfTwoScale(channel: Float32Array, bits: number) {
  const full = 2 ** (bits - 1);
  for (let i = 0; i < channel.length; i++) channel[i] = Math.round(channel[i] * (full - 1)) / full;
}

/** The samples as the checksum of STREAMINFO counts them: interleaved, signed, lowest byte first. */
function interleaved(channels: readonly Float32Array[], bits: number): Uint8Array {
  const width = Math.ceil(bits / 8);
  const full = 2 ** (bits - 1);
  const bytes = new Uint8Array(width * channels.length * channels[0].length);
  let at = 0;
  for (let i = 0; i < channels[0].length; i++)
    for (const channel of channels) {
      const value = channel[i] * full;
      for (let b = 0; b < width; b++) bytes[at++] = value >> (8 * b);
    }
  return bytes;
}
