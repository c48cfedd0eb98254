import { Readable } from 'node:stream';
import { parseStream } from 'music-metadata';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import { readAiffMarks, readWaveMarks } from '@/core/formats/fileMarks';
import type { Reading } from '@/core/readings/reading';
import { readMarks, readTags } from '@/core/readings/tagReading';

/** Bytes of a file in any part. */
export type OpenPart = (from: number, to: number) => AsyncIterable<Uint8Array>;

/** Fields whose texts are searched for tempo and key in plain words. */
const TEXT_FIELDS = /^(COMM|COMMENT|DESCRIPTION|TXXX|©cmt|desc|TIT1|GROUPING|ICMT)/i;

/**
 * Tempo, key and first downbeat from what is embedded in a file by open standards: tags (ID3v2, Vorbis comments,
 * MP4 atoms), and in WAV and AIFF files their own chunks. Nothing when they are absent or damaged.
 */
export async function readEmbedded(
  open: OpenPart,
  format: AudioFormat,
  byteLength: number,
  sampleRate: number,
): Promise<Reading[]> {
  const readings = await readOpenTags(open(0, byteLength), format, byteLength);
  const readAt = async (from: number, to: number) => {
    const parts: Uint8Array[] = [];
    for await (const part of open(from, Math.min(to, byteLength))) parts.push(part);
    return Uint8Array.from(Buffer.concat(parts));
  };
  const marks =
    format === 'wav'
      ? await readWaveMarks(readAt, byteLength).catch(() => null)
      : format === 'aiff'
        ? await readAiffMarks(readAt, byteLength).catch(() => null)
        : null;
  const more = marks ? readMarks(marks, sampleRate) : [];
  // A field that is made for it says it better than a text.
  return [...readings, ...more.filter((one) => !readings.some(({ property }) => property === one.property))];
}

async function readOpenTags(
  bytes: AsyncIterable<Uint8Array>,
  format: AudioFormat,
  byteLength: number,
): Promise<Reading[]> {
  const stream = Readable.from(bytes, { objectMode: false });
  try {
    const { native } = await parseStream(
      stream,
      { mimeType: MEDIA_TYPES[format], size: byteLength },
      { duration: false, skipCovers: true },
    );
    // The common view cuts tempi to whole numbers; the native one has the text as it stands.
    const fields = Object.values(native).flatMap((tags) =>
      tags.map(({ id, value }) => ({ field: id.replace(/^(TXXX:|----:[^:]*:)/i, ''), text: textOf(value) })),
    );
    const readings = readTags(fields);
    const texts = fields.filter(({ field }) => TEXT_FIELDS.test(field));
    const plain = readMarks({ cues: [], loop: null, texts }, 1);
    return [
      ...readings,
      ...plain.filter((one) => !readings.some(({ property }) => property === one.property)),
    ];
  } catch {
    return [];
  } finally {
    stream.destroy();
  }
}

/** Comments come as objects with their language. */
function textOf(value: unknown): string {
  if (value && typeof value === 'object' && 'text' in value) return String(value.text);
  return String(value ?? '');
}
