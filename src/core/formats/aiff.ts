import { byteReader, type ByteReader } from './byteReader';
import { UndecodableError, type DecodedSummary, type PcmSink } from './audioFormat';
import { deinterleave, type SampleEncoding } from './sampleEncoding';
import { readPcmBlocks } from './pcmBlocks';

/**
 * Decodes AIFF and uncompressed AIFF-C (NONE, twos, sowt, in24/in32, fl32/fl64). Unknown chunks are passed
 * over. Throws UndecodableError with a sentence for the user.
 */
export async function decodeAiff(reader: ByteReader, sink: PcmSink): Promise<DecodedSummary> {
  await reader.skip(12);
  let layout: Layout | null = null;
  let earlySound: Uint8Array | null = null;
  for (;;) {
    const header = await reader.read(8);
    if (header.length < 8) {
      throw new UndecodableError(
        layout ? 'The AIFF file has no audio data.' : 'The AIFF file ends before its format is told.',
      );
    }
    const id = String.fromCharCode(...header.subarray(0, 4));
    const size = new DataView(header.buffer, header.byteOffset).getUint32(4, false);
    if (id === 'COMM') {
      layout = parseCommon(await reader.read(size));
      if (earlySound) return readSound(byteReader(once(earlySound)), earlySound.length, layout, sink);
    } else if (id === 'SSND') {
      if (layout) return readSound(reader, size, layout, sink);
      // The standard allows the sound before its description, though hardly anybody writes it so.
      earlySound = (await reader.read(size)).slice();
    } else {
      await reader.skip(size);
    }
    if (size % 2 === 1) await reader.skip(1);
  }
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
): Promise<DecodedSummary> {
  const { channels, sampleRate, encoding } = layout;
  const head = await reader.read(8);
  const offset = head.length === 8 ? new DataView(head.buffer, head.byteOffset).getUint32(0, false) : 0;
  await reader.skip(offset);
  const frameBytes = (channels * encoding.bits) / 8;
  const length = Math.min(Math.max(0, size - 8 - offset), layout.frames * frameBytes);
  const frames = await readPcmBlocks(reader, length, frameBytes, (bytes) =>
    sink(deinterleave(bytes, channels, encoding), sampleRate),
  );
  const warnings: string[] = [];
  if (frames < layout.frames) {
    warnings.push(
      `The file says ${(layout.frames / sampleRate).toFixed(2)} s, but only ${(frames / sampleRate).toFixed(2)} s are there.`,
    );
  }
  return { format: 'aiff', sampleRate, channels, frames, warnings };
}

function parseCommon(body: Uint8Array): Layout {
  if (body.length < 18) throw new UndecodableError('The AIFF file ends inside its format.');
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const channels = view.getUint16(0, false);
  const frames = view.getUint32(2, false);
  const storedBits = view.getUint16(6, false);
  const sampleRate = Math.round(extendedFloat(view, 8));
  const compression = body.length >= 22 ? String.fromCharCode(...body.subarray(18, 22)) : 'NONE';
  const float = /^fl(32|64)$/i.test(compression);
  if (!float && !['NONE', 'twos', 'sowt', 'in24', 'in32'].includes(compression)) {
    throw new UndecodableError(`The AIFF-C file is compressed with “${compression}”, which is not open PCM.`);
  }
  if (storedBits < 1 || storedBits > 64 || (!float && storedBits > 32))
    throw new UndecodableError(`The AIFF file claims ${storedBits}-bit samples.`);
  if (channels < 1 || channels > 64) throw new UndecodableError(`The AIFF file claims ${channels} channels.`);
  if (!(sampleRate >= 1000 && sampleRate <= 768000))
    throw new UndecodableError(`The AIFF file claims a sample rate of ${sampleRate} Hz.`);
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

async function* once(bytes: Uint8Array) {
  yield bytes;
}
