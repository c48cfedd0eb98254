import { parseBlob } from 'music-metadata';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import type { ReadAt } from '@/core/formats/byteReader';
import { readAiffMarks, readWaveMarks } from '@/core/formats/fileMarks';
import { readOggFlacTags } from '@/core/formats/oggFlacTags';
import { readMidi } from '@/core/formats/midi';
import type { Reading } from '@/core/readings/reading';
import { readClaims, readMarks, readTags } from '@/core/readings/tagReading';

/** Bytes of a file in any part. */
export type OpenPart = (from: number, to: number) => AsyncIterable<Uint8Array>;

/** Fields whose texts are searched for tempo and key in plain words. */
const TEXT_FIELDS = /^(COMM|COMMENT|DESCRIPTION|TXXX|©cmt|desc|TIT1|GROUPING|ICMT)/i;

/**
 * Tempo, key and first downbeat from what is embedded in a file by open standards: tags (ID3v2, Vorbis comments,
 * MP4 atoms), in WAV and AIFF files their own chunks, in a Standard MIDI File its header. Nothing when they are absent or damaged.
 */
export async function readEmbedded(
  open: OpenPart,
  format: AudioFormat,
  byteLength: number,
  sampleRate: number,
): Promise<Reading[]> {
  const readAt = async (from: number, to: number) => {
    const parts: Uint8Array[] = [];
    for await (const part of open(from, Math.min(to, byteLength))) parts.push(part);
    return Uint8Array.from(Buffer.concat(parts));
  };
  if (format === 'midi') return readClaims(readMidi(await readAt(0, byteLength)).claims);
  const readings = await readOpenTags(readAt, format, byteLength);
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

async function readOpenTags(readAt: ReadAt, format: AudioFormat, byteLength: number): Promise<Reading[]> {
  try {
    if (format === 'ogg-flac') return readingsOf(await readOggFlacTags(blocksOf(readAt, byteLength)));
    const { native } = await parseBlob(blobOf(readAt, MEDIA_TYPES[format], byteLength), {
      duration: false,
      skipCovers: true,
    });
    // The common view cuts tempi to whole numbers; the native one has the text as it stands.
    const fields = Object.values(native).flatMap((tags) =>
      tags.map(({ id, value }) => ({ field: id.replace(/^(TXXX:|----:[^:]*:)/i, ''), text: textOf(value) })),
    );
    return readingsOf(fields);
  } catch {
    return [];
  }
}

function readingsOf(fields: readonly { field: string; text: string }[]): Reading[] {
  const readings = readTags(fields);
  const texts = fields.filter(({ field }) => TEXT_FIELDS.test(field));
  const plain = readMarks({ cues: [], loop: null, texts }, 1);
  return [...readings, ...plain.filter((one) => !readings.some(({ property }) => property === one.property))];
}

async function* blocksOf(readAt: ReadAt, byteLength: number): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < byteLength; at += WINDOW) yield readAt(at, at + WINDOW);
}

/** So much is read at a time, bytes: tags are read in many small pieces that mostly lie together. */
const WINDOW = 64 * 1024;

/** What the tag reader needs of a Blob, without the whole file in memory. */
function blobOf(readAt: ReadAt, type: string, size: number): Blob {
  let window: { from: number; bytes: Uint8Array } = { from: 0, bytes: new Uint8Array(0) };
  const slice = (from = 0, to = size) => ({
    async arrayBuffer(): Promise<ArrayBuffer> {
      const end = Math.min(to, size);
      if (from < window.from || end > window.from + window.bytes.length)
        window = { from, bytes: await readAt(from, Math.max(end, from + WINDOW)) };
      return window.bytes.slice(from - window.from, end - window.from).buffer as ArrayBuffer;
    },
  });
  return { size, type, slice } as unknown as Blob;
}

/** Comments come as objects with their language. */
function textOf(value: unknown): string {
  if (value && typeof value === 'object' && 'text' in value) return String(value.text);
  return String(value ?? '');
}
