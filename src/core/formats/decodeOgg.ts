import { OggVorbisDecoder } from '@wasm-audio-decoders/ogg-vorbis';
import { OggOpusDecoder } from 'ogg-opus-decoder';
import { UndecodableError, type DecodedSummary, type PcmSink } from './audioFormat';
import { orNull, sameLayout, soundOf, type BlockDecoder } from './blockDecoder';
import type { ByteReader } from './byteReader';
import { oggPages, type OggPage } from './oggPages';
import { brokenOff, lostWords, placing, type Placing } from './placing';
import { windowOf } from './window';

const DECODERS: Record<'ogg-vorbis' | 'ogg-opus', () => BlockDecoder> = {
  'ogg-vorbis': () => new OggVorbisDecoder(),
  'ogg-opus': () => new OggOpusDecoder(),
};

/** Opus counts what its decoder swallows at the beginning; its identification header says how much (RFC 7845, 5.1). */
const OPUS_PRESKIP_AT = 10;

/**
 * Decodes Vorbis or Opus in Ogg page by page. Each unbroken run of pages has a decoder of its own that begins with the
 * headers, and its pages say where it stands, so that a damaged page costs itself. Throws UndecodableError with a
 * sentence for the user.
 */
export async function decodeOgg(
  format: 'ogg-vorbis' | 'ogg-opus',
  reader: ByteReader,
  sink: PcmSink,
): Promise<DecodedSummary> {
  const headers: OggPage[] = [];
  let places: Placing | null = null;
  let layout = { sampleRate: 0, channels: 0 };
  let run: Run | null = null;
  let preskip = 0;
  /** Number of the first sound, where the stream was cut out of a longer one. */
  let base: number | null = null;
  let isClosed = false;
  let isFollowed = false;
  let isInOrder = true;

  const hand = async ({ block, granule }: { block: Float32Array[]; granule: number }) => {
    if (block.length === 0 || block[0].length === 0) return;
    places ??= placing(sink, layout.sampleRate, layout.channels);
    const at = granule - preskip - block[0].length;
    base ??= isInOrder ? Math.max(0, at) : 0;
    if (isInOrder) places.append(block);
    else places.place(block, Math.max(0, at - base));
    isInOrder = true;
  };
  const endRun = async () => {
    for (const part of (await run?.end()) ?? []) await hand(part);
    run = null;
    isInOrder = false;
  };

  for await (const page of oggPages(windowOf(reader))) {
    if (headers.length > 0 && page.serial !== headers[0].serial) {
      isFollowed ||= isClosed && page.isFirst;
      continue;
    }
    if (headers.length === 0 && !page.isFirst) continue;
    // All before the first sound is headers; the last of them may share its page with none of it.
    if (page.granule <= 0 && !places && !run) {
      headers.push(page);
      if (format === 'ogg-opus' && page.isFirst)
        preskip =
          page.bytes[page.bodyAt + OPUS_PRESKIP_AT] | (page.bytes[page.bodyAt + OPUS_PRESKIP_AT + 1] << 8);
      continue;
    }
    if (run && page.sequence !== run.expected) await endRun();
    if (!run) {
      if (!places) isInOrder = page.sequence === headers[headers.length - 1].sequence + 1;
      run = await beginRun(DECODERS[format], headers, (block) => {
        if (layout.sampleRate === 0)
          layout = { sampleRate: block.sampleRate, channels: block.channelData.length };
        sameLayout(layout.sampleRate, layout.channels, block);
      });
      if (!run)
        throw new UndecodableError(
          'The headers of this Ogg file are damaged; without them nothing can be decoded.',
        );
    }
    isClosed = page.isLast;
    const parts = await run.push(page);
    if (parts) for (const part of parts) await hand(part);
    else await endRun();
  }
  await endRun();
  const frames = (places as Placing | null)?.frames ?? 0;
  const lost = (places as Placing | null)?.lost ?? [];
  const { sampleRate, channels } = layout;
  const warnings = lostWords(lost, frames / (sampleRate || 1), null);
  if (frames > 0 && !isClosed) warnings.push(brokenOff({ frames, sampleRate }));
  if (isFollowed) warnings.push('Another stream follows in the file; it was not read.');
  return { format, sampleRate, channels, frames, lost, claimed: null, warnings };
}

interface Run {
  /** Number of the page that goes on. */
  expected: number;
  /** The sound that is complete now, with the number at its end; null when the decoder gave up. */
  push(page: OggPage): Promise<{ block: Float32Array[]; granule: number }[] | null>;
  end(): Promise<{ block: Float32Array[]; granule: number }[]>;
}

/** A decoder that has read the headers, or null when it cannot. It hands the sound of a page over at the next one. */
async function beginRun(
  make: () => BlockDecoder,
  headers: readonly OggPage[],
  check: (block: Awaited<ReturnType<BlockDecoder['decode']>>) => void,
): Promise<Run | null> {
  const decoder = make();
  await decoder.ready;
  for (const { bytes } of headers)
    if (!(await orNull(() => decoder.decode(bytes)))) {
      await orNull(() => decoder.free());
      return null;
    }
  let granule = 0;
  const run: Run = {
    expected: 0,
    async push(page) {
      const block = await orNull(() => decoder.decode(page.bytes));
      if (!block) return null;
      if (block.samplesDecoded > 0) check(block);
      const part = { block: soundOf(block), granule };
      run.expected = page.sequence + 1;
      if (page.granule > 0) granule = page.granule;
      return [part];
    },
    async end() {
      const block = decoder.flush ? await orNull(() => decoder.flush!()) : null;
      await orNull(() => decoder.free());
      if (!block || block.samplesDecoded === 0) return [];
      check(block);
      return [{ block: soundOf(block), granule }];
    },
  };
  return run;
}
