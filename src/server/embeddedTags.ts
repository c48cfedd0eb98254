import { Readable } from 'node:stream';
import { parseStream } from 'music-metadata';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import type { Reading } from '@/core/readings/reading';
import { readTags } from '@/core/readings/tagReading';

/** Tempo and key from a file's embedded open tags; nothing when they are absent or damaged. */
export async function readEmbeddedTags(
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
      tags.map(({ id, value }) => ({ field: id.replace(/^TXXX:/i, ''), text: String(value ?? '') })),
    );
    return readTags(fields);
  } catch {
    return [];
  } finally {
    stream.destroy();
  }
}
