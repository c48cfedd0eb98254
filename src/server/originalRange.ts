import { withEnding } from '@/core/formats/endings';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import { database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { readSampleFile } from '@/store/samples';
import { notFound, UserError } from './userError';

export interface OriginalPart {
  name: string;
  mediaType: string;
  sha256: string;
  byteLength: number;
  /** First byte and the byte after the last one. */
  from: number;
  to: number;
  partial: boolean;
  bytes: AsyncGenerator<Uint8Array>;
}

/**
 * An original's bytes (with `forListening` those of its listening copy, where it has one), or the single range of an HTTP `Range` header (RFC 9110). Throws UserError for an
 * unknown sample and for a range outside the file; several ranges at once give the whole file.
 */
export async function originalRange(
  sampleId: string,
  rangeHeader: string | null,
  forListening = false,
): Promise<OriginalPart> {
  const sample = await readSampleFile(database(), sampleId);
  if (!sample) throw notFound();
  if (forListening && sample.listeningId !== null) {
    const byteLength = sample.listeningBytes!;
    const { from, to, partial } = parseRange(rangeHeader, byteLength);
    return {
      name: sample.name,
      mediaType: MEDIA_TYPES.flac,
      sha256: `listening-${sample.sha256}`,
      byteLength,
      from,
      to,
      partial,
      bytes: readOriginal(sample.listeningId, from, to),
    };
  }
  const { from, to, partial } = parseRange(rangeHeader, sample.byteLength);
  return {
    name: withEnding(sample.name, sample.format),
    mediaType: sample.format ? MEDIA_TYPES[sample.format as AudioFormat] : 'application/octet-stream',
    sha256: sample.sha256,
    byteLength: sample.byteLength,
    from,
    to,
    partial,
    bytes: readOriginal(sample.originalId, from, to),
  };
}

/** The single range of an HTTP `Range` header, or the whole. Throws UserError for one outside the file. */
export function parseRange(
  header: string | null,
  length: number,
): { from: number; to: number; partial: boolean } {
  const whole = { from: 0, to: length, partial: false };
  const match = /^bytes=(\d*)-(\d*)$/.exec(header ?? '');
  if (!match || (match[1] === '' && match[2] === '')) return whole;
  const from = match[1] === '' ? Math.max(0, length - Number(match[2])) : Number(match[1]);
  const to = match[1] === '' || match[2] === '' ? length : Math.min(length, Number(match[2]) + 1);
  if (from >= length || to <= from)
    throw new UserError(`The file has ${length} bytes; ${header} is outside.`, 416);
  return { from, to, partial: true };
}
