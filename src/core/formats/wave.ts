import type { ByteReader } from './byteReader';
import { chunksOf, fourLetters, viewOf } from './chunks';
import { UndecodableError, type DecodedSummary, type DecodeOptions, type PcmSink } from './audioFormat';
import { deinterleave, type SampleEncoding } from './sampleEncoding';
import { readPcmBlocks } from './pcmBlocks';
import { lostWords } from './placing';

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
const FORMAT_EXTENSIBLE = 0xfffe;
/** The extensible form is the longest. */
const LONGEST_FORMAT = 40;
/** Data lengths that recorders leave when they could not go back and fill them in. */
const LENGTH_UNKNOWN = [0, 0xffffffff];
/** What is said then. */
const NOT_CLOSED =
  'The file was not closed by whoever recorded it: it does not say how long it is, and was read to its end.';
/** How the name of a part looks; sound hardly ever begins so. */
const NAME = /^[\w .-]{4}$/;

/**
 * Decodes RIFF/WAVE and RF64 (EBU Tech 3306): PCM of 8, 16, 24, 32 bits and float of 32, 64 bits, also in
 * the extensible form. Unknown chunks are passed over; chunks of odd size are padded as the standard says.
 * Throws UndecodableError with a sentence for the user.
 */
export async function decodeWave(
  reader: ByteReader,
  sink: PcmSink,
  { onClaim, byteLength = 0 }: DecodeOptions = {},
): Promise<DecodedSummary> {
  await reader.skip(12);
  let dataLength64: number | null = null;
  let layout: { channels: number; sampleRate: number; encoding: SampleEncoding } | null = null;
  for await (const { id, size, head } of chunksOf(reader, 'little')) {
    if (id === 'ds64') {
      const body = viewOf(await head(16));
      if (body.byteLength >= 16) dataLength64 = Number(body.getBigUint64(8, true));
    } else if (id === 'fmt ') {
      layout = parseFormat(await head(LONGEST_FORMAT));
    } else if (id === 'data') {
      if (!layout) throw new UndecodableError('The WAV file has audio data before its format.');
      const { channels, sampleRate, encoding } = layout;
      const frameBytes = (channels * encoding.bits) / 8;
      let claimed: number | null = size;
      if (LENGTH_UNKNOWN.includes(size)) {
        const next = size === 0 ? await reader.peek(8) : null;
        // It may be empty indeed, with another part behind it.
        if (next && (next.length < 8 || NAME.test(fourLetters(next, 0)))) continue;
        claimed = dataLength64;
      }
      const says = claimed === null ? null : Math.floor(claimed / frameBytes) / sampleRate;
      const atMost = Math.floor(Math.max(0, byteLength - reader.position) / frameBytes) / sampleRate;
      onClaim?.(says ?? (atMost || null));
      const frames = await readPcmBlocks(reader, claimed, frameBytes, (bytes) =>
        sink(deinterleave(bytes, channels, encoding), sampleRate),
      );
      const warnings = lostWords([], frames / sampleRate, says, 0.5 / sampleRate);
      if (claimed === null) warnings.push(NOT_CLOSED);
      if (warnings.length === 0 && claimed !== null) {
        if (claimed % 2) await reader.skip(1);
        const next = await reader.read(8);
        if (next.length === 8 && !NAME.test(fourLetters(next, 0)))
          warnings.push(
            `The file says ${(frames / sampleRate).toFixed(2)} s, but what follows then is no part of a WAV file: more sound, or damage.`,
          );
      }
      return { format: 'wav', sampleRate, channels, frames, claimed: says, warnings };
    }
  }
  throw new UndecodableError(
    layout ? 'The WAV file has no audio data.' : 'The WAV file ends before its format is told.',
  );
}

function parseFormat(body: Uint8Array) {
  if (body.length < 16) throw new UndecodableError('The WAV file ends inside its format.');
  const view = viewOf(body);
  let code = view.getUint16(0, true);
  const channels = view.getUint16(2, true);
  const sampleRate = view.getUint32(4, true);
  const bits = view.getUint16(14, true);
  if (code === FORMAT_EXTENSIBLE && body.length >= 26) code = view.getUint16(24, true);
  const float = code === FORMAT_FLOAT;
  if (code !== FORMAT_PCM && !float)
    throw new UndecodableError(`The WAV file holds encoding ${code}, not plain PCM or float.`);
  if (!(float ? [32, 64] : [8, 16, 24, 32]).includes(bits))
    throw new UndecodableError(`The WAV file has ${bits}-bit samples, which is not a known size.`);
  if (channels < 1 || channels > 64) throw new UndecodableError(`The WAV file claims ${channels} channels.`);
  if (sampleRate < 1000 || sampleRate > 768000)
    throw new UndecodableError(`The WAV file claims a sample rate of ${sampleRate} Hz.`);
  const encoding: SampleEncoding = {
    bits: bits as SampleEncoding['bits'],
    float,
    unsigned: bits === 8,
    littleEndian: true,
  };
  return { channels, sampleRate, encoding };
}
