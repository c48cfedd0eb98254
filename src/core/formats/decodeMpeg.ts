import { MPEGDecoder } from 'mpg123-decoder';
import type { DecodeOptions, DecodedSummary, Lost, PcmSink } from './audioFormat';
import { orNull, sameLayout, soundOf } from './blockDecoder';
import type { ByteReader } from './byteReader';
import { claimsOf, mpegFrames, silentFrame, type MpegClaims } from './mpegFrames';
import { framesLost } from './mpegGaps';
import { lostAtEnd, lostWords, placing, type Placing } from './placing';
import { windowOf } from './window';
import { lameCrc16 } from './checksums';

/** Frames are handed to the decoder in parts of about this many bytes. */
const PART = 32 * 1024;
/** So much of a frame may lack where one was: frames differ by a byte, and more. */
const NEARLY = 0.1;
/** No more than this is believed to be missing at one place, frames: about ten minutes. */
const MOST_LOST = 23_000;

/**
 * Decodes MPEG layer III. Silent frames stand for bytes between frames that are none, so that nothing behind them
 * moves; what the first frame says of the whole is held against what is there. `again`: the same from its beginning, for
 * damaged ones, of which all is looked through before it is said how much is missing. Throws UndecodableError with a sentence
 * for the user.
 */
export async function decodeMpeg(
  reader: ByteReader,
  again: () => ByteReader,
  sink: PcmSink,
  { onClaim }: DecodeOptions,
): Promise<DecodedSummary> {
  const decoder = new MPEGDecoder({ enableGapless: true });
  await decoder.ready;
  let places: Placing | null = null;
  let layout = { sampleRate: 0, channels: 0 };
  const lost: Lost[] = [];
  let claims: MpegClaims | null = null;
  let frames = 0;
  let bytes = 0;
  let crc = 0;
  let samples = 0;
  let framesAtEnd = 0;
  let part: Uint8Array[] = [];
  let held = 0;
  const decode = async () => {
    const joined = new Uint8Array(held);
    let at = 0;
    for (const one of part) {
      joined.set(one, at);
      at += one.length;
    }
    part = [];
    held = 0;
    const block = await orNull(() => decoder.decode(joined));
    if (!block || block.samplesDecoded === 0) return;
    if (!places) layout = { sampleRate: block.sampleRate, channels: block.channelData.length };
    places ??= placing(sink, layout.sampleRate, layout.channels);
    sameLayout(layout.sampleRate, layout.channels, block);
    places.append(soundOf(block));
  };
  /** Frames that stand in the file so far. */
  let index = 0;
  /** What is missing, by the frame before which it is; found at the first gap, or at once where the head says how much there is. */
  let gaps: Map<number, number> | null = null;
  const findGaps = async () => {
    const lostFrames = await framesLost(windowOf(again()));
    return new Map(lostFrames.map((one) => [one.index, one.count]));
  };
  const put = async (frame: Uint8Array) => {
    part.push(frame);
    held += frame.length;
    if (held >= PART) await decode();
  };
  try {
    const stream = mpegFrames(windowOf(reader));
    let next = await stream.next();
    for (; !next.done; next = await stream.next()) {
      const frame = next.value;
      const { header } = frame;
      if (frames === 0 && !claims) {
        claims = claimsOf(frame);
        ({ samples } = header);
        if (claims?.isDamaged) {
          // Nothing is cut off at either end for what it says; the frame itself is silent.
          claims = { ...claims, frames: null, musicCrc: null };
          continue;
        }
        if (claims) {
          if (claims.frames !== null) onClaim?.(claims.frames / header.sampleRate);
          if (claims.musicCrc !== null) gaps = await findGaps();
          await put(frame.bytes);
          continue;
        }
      }
      if (index > 0 && frame.passed > 0) gaps ??= await findGaps();
      const missing = gaps?.get(index) ?? 0;
      index++;
      if (missing > 0 && missing < MOST_LOST) {
        const seconds = header.samples / header.sampleRate;
        lost.push({ from: frames * seconds, seconds: missing * seconds });
        for (let i = 0; i < missing; i++) await put(silentFrame(frame));
        frames += missing;
      }
      crc = lameCrc16(frame.bytes, crc);
      frames++;
      bytes += header.length;
      await put(frame.bytes);
    }
    // What is no whole frame was cut off, not damaged.
    if (frames > 0) framesAtEnd = Math.floor((next.value * frames) / bytes + NEARLY);
    await decode();
  } finally {
    decoder.free();
  }
  const total = (places as Placing | null)?.frames ?? 0;
  const { sampleRate, channels } = layout;
  // Encoders other than LAME disagree whether the frame that holds the claims is one of them.
  const isCounted =
    claims?.frames != null && (claims.musicCrc !== null || claims.frames - frames * samples > samples);
  const claimed = isCounted && sampleRate > 0 ? claims!.frames! / sampleRate : null;
  const warnings = lostWords(lost, (frames * samples) / (sampleRate || 1), claimed);
  if (claims?.isDamaged)
    warnings.push(
      'Its head is damaged: how much the encoder put before and behind the sound is not known, so it may begin some hundredths of a second late.',
    );
  if (warnings.length === 0 && framesAtEnd > 0)
    warnings.push(lostAtEnd((framesAtEnd * samples) / (sampleRate || 1)));
  if (warnings.length === 0 && total > 0 && claims?.musicCrc && claims.musicCrc !== crc)
    warnings.push(
      'The sound is not what its encoder wrote: its checksum differs. Some of its bytes were changed.',
    );
  return { format: 'mp3', sampleRate, channels, frames: total, lost, claimed, warnings };
}
