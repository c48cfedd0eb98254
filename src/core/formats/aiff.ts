import type { ByteReader } from './byteReader';
import { chunksOf, fourLetters, viewOf } from './chunks';
import { UndecodableError, type DecodedSummary, type DecodeOptions, type PcmSink } from './audioFormat';
import { deinterleave, type SampleEncoding } from './sampleEncoding';
import { readPcmBlocks } from './pcmBlocks';
import { lostWords } from './placing';

/** Length of a description that says nothing of compression. */
const COMMON = 18;
/** Its name of a compression is a counted text of up to 255 letters. */
const LONGEST_COMMON = 22 + 256;

/**
 * Decodes AIFF and uncompressed AIFF-C (NONE, twos, sowt, in24/in32, fl32/fl64). Unknown chunks are passed
 * over. The standard allows the sound before its description: then the file is opened `again` and the sound read when
 * it is known what it is. Throws UndecodableError with a sentence for the user.
 */
export async function decodeAiff(
  reader: ByteReader,
  sink: PcmSink,
  again: () => ByteReader,
  { onClaim }: DecodeOptions = {},
): Promise<DecodedSummary> {
  const isCompressible = fourLetters(await reader.read(12), 8) === 'AIFC';
  let layout: Layout | null = null;
  let early: { offset: number; size: number } | null = null;
  for await (const { id, offset, size, head } of chunksOf(reader, 'big')) {
    if (id === 'COMM') {
      layout = parseCommon(await head(isCompressible ? LONGEST_COMMON : COMMON));
      if (!early) continue;
      const fresh = again();
      await fresh.skip(early.offset + 8);
      return readSound(fresh, early.size, layout, sink, onClaim);
    }
    if (id === 'SSND') {
      if (layout) return readSound(reader, size, layout, sink, onClaim);
      early ??= { offset, size };
    }
  }
  throw new UndecodableError(
    layout ? 'The AIFF file has no audio data.' : 'The AIFF file ends before its format is told.',
  );
}

interface Layout {
  channels: number;
  frames: number;
  sampleRate: number;
  encoding: SampleEncoding;
}

async function readSound(
  reader: ByteReader,
  size: number,
  layout: Layout,
  sink: PcmSink,
  onClaim: DecodeOptions['onClaim'],
): Promise<DecodedSummary> {
  const { channels, sampleRate, encoding } = layout;
  const head = await reader.read(8);
  const offset = head.length === 8 ? viewOf(head).getUint32(0, false) : 0;
  await reader.skip(offset);
  const frameBytes = (channels * encoding.bits) / 8;
  const claimed = layout.frames / sampleRate;
  onClaim?.(claimed);
  const length = Math.min(Math.max(0, size - 8 - offset), layout.frames * frameBytes);
  const frames = await readPcmBlocks(reader, length, frameBytes, (bytes) =>
    sink(deinterleave(bytes, channels, encoding), sampleRate),
  );
  const warnings = lostWords([], frames / sampleRate, claimed, 0.5 / sampleRate);
  return { format: 'aiff', sampleRate, channels, frames, claimed, warnings };
}

function parseCommon(body: Uint8Array): Layout {
  if (body.length < 18) throw new UndecodableError('The AIFF file ends inside its format.');
  const view = viewOf(body);
  const channels = view.getUint16(0, false);
  const frames = view.getUint32(2, false);
  const storedBits = view.getUint16(6, false);
  const sampleRate = Math.round(extendedFloat(view, 8));
  const compression = body.length >= 22 ? fourLetters(body, 18) : 'NONE';
  const float = /^fl(32|64)$/i.test(compression);
  if (!float && !['NONE', 'twos', 'sowt', 'in24', 'in32'].includes(compression)) {
    throw new UndecodableError(`The AIFF-C file is compressed with “${compression}”, which is not open PCM.`);
  }
  if (storedBits < (float ? 32 : 5) || storedBits > 64 || (!float && storedBits > 32))
    throw new UndecodableError(`The AIFF file claims ${storedBits}-bit samples.`);
  if (channels < 1 || channels > 64) throw new UndecodableError(`The AIFF file claims ${channels} channels.`);
  if (!(sampleRate >= 1000 && sampleRate <= 768000))
    throw new UndecodableError(
      Number.isFinite(sampleRate)
        ? `The AIFF file claims a sample rate of ${sampleRate} Hz.`
        : 'The AIFF file claims a sample rate that is no number.',
    );
  const bits = (Math.ceil(storedBits / 8) * 8) as SampleEncoding['bits'];
  return {
    channels,
    frames,
    sampleRate,
    encoding: { bits, float, unsigned: false, littleEndian: compression === 'sowt' },
  };
}

/** 80-bit IEEE 754 extended, big-endian, as AIFF stores its sample rate. */
function extendedFloat(view: DataView, at: number): number {
  const exponent = (view.getUint16(at, false) & 0x7fff) - 16383;
  return (
    (view.getUint32(at + 2, false) * 2 ** -31 + view.getUint32(at + 6, false) * 2 ** -63) * 2 ** exponent
  );
}
