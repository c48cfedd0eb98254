import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import { usualEnding, withEnding } from '@/core/formats/endings';
import { laterWritten, onGrid } from '@/core/formats/midiCopy';
import type { SampleEntry } from '@/contract/entry';
import { barsOf } from '@/library/samples/barsOf';
import { USUAL_NAME } from '@/library/recipes/aims';
import { entryLater } from '@/library/samples/entryLater';
import { openTagsOf, type OpenTags } from '@/library/samples/openTags';
import { nameFromTemplate } from '@/library/samples/nameTemplate';
import { isRowUnpitched } from '@/library/samples/toneless';
import { whyNotTagged } from '@/library/samples/taggable';
import { barTime, type Grid } from '@/core/rhythm/grid';
import { database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { readSampleFile, type SampleFile } from '@/store/samples';
import { readEntry } from './entry';
import { fileOnce } from './fileOnce';
import { inOnePart } from './inOnePart';
import { log } from './log';
import { notFound, UserError } from './userError';
import { waveChunkNames, writeWaveMarkers } from './waveMarkers';
import { writeOpenTags } from './writeOpenTags';
import { temporaryFolder } from './temporary';

export interface TaggedCopy {
  name: string;
  mediaType: string;
  byteLength: number;
  bytes: AsyncGenerator<Uint8Array>;
}

/**
 * A copy of the original that carries the settled tempo and key in the open tags of its format; WAV also
 * gets loop points and a cue at every bar. The original stays untouched. The copy lives in a temporary
 * file that is gone when its bytes have been read, or its reader went away. A MIDI performance is written on the settled grid.
 */
export async function taggedCopy(sampleId: string): Promise<TaggedCopy> {
  const [entry, sample] = await Promise.all([readEntry(sampleId), readSampleFile(database(), sampleId)]);
  if (!sample) throw notFound();
  const { name, format } = entry.summary;
  const why = whyNotTagged({ name, format }, entry.settled.grid !== null);
  if (why) throw new UserError(why, 422);
  const audioFormat = format as AudioFormat;
  if (audioFormat === 'midi') return performanceOnGrid(entry, sample);
  const folder = await temporaryFolder();
  const path = join(folder, `copy${usualEnding(audioFormat)}`);
  try {
    await pipeline(
      Readable.from(readOriginal(sample.originalId, 0, sample.byteLength)),
      createWriteStream(path),
    );
    const own = audioFormat === 'wav' ? await waveChunkNames(path) : null;
    await writeOpenTags(path, audioFormat, tagsOf(entry));
    if (own) await writeWaveMarkers(path, markersOf(entry), own);
    const { size } = await stat(path);
    return {
      name: taggedName(entry),
      mediaType: MEDIA_TYPES[audioFormat],
      byteLength: size,
      bytes: await fileOnce(path, folder),
    };
  } catch (error) {
    await rm(folder, { recursive: true, force: true });
    if (error instanceof UserError) throw error;
    log.error({ event: 'tagging failed', sample: sampleId, err: error });
    throw new UserError(
      `The tags of “${name}” cannot be written: the file's structure is damaged. The original can be downloaded.`,
      422,
    );
  }
}

/**
 * What is known of a sample, as its tagged copy has it: a performance that is written on its grid begins with a bar line, and every moment
 * of it is later by as much.
 */
export function entryOfCopy(entry: SampleEntry): SampleEntry {
  const { format } = entry.summary;
  const { grid } = entry.settled;
  return format === 'midi' && grid ? entryLater(entry, laterWritten(grid)) : entry;
}

/** A performance is written on the beats of its settled grid: it has no tags, but a header for tempo, time signature and key. */
async function performanceOnGrid(entry: SampleEntry, sample: SampleFile): Promise<TaggedCopy> {
  const { grid, key } = entry.settled;
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(sample.originalId, 0, sample.byteLength)) parts.push(part);
  const bytes = onGrid(Buffer.concat(parts), grid!, key && 'tonic' in key ? key : null);
  return {
    name: taggedName(entry),
    mediaType: MEDIA_TYPES.midi,
    byteLength: bytes.length,
    bytes: inOnePart(bytes),
  };
}

/** "Loop.wav" at 100 BPM in A minor becomes "Loop 100 bpm Am.wav", unless the name says it already. */
function taggedName({ summary, settled }: Pick<SampleEntry, 'summary' | 'settled'>): string {
  const name = withEnding(summary.name, summary.format);
  const tempoBpm = summary.kind === 'oneshot' ? null : (settled.grid?.tempoBpm ?? null);
  const tags = settled.tags;
  return nameFromTemplate(USUAL_NAME, { ...summary, name, tempoBpm, tags }).name;
}

function tagsOf({ summary, settled, measurement }: SampleEntry): OpenTags {
  const { grid, key, tags, note } = settled;
  const chord = measurement?.rootNote?.chord ?? null;
  return openTagsOf({
    ...{ grid, key, tags, note, chord },
    ...{ kind: summary.kind, isUnpitched: isRowUnpitched(summary) },
  });
}

function markersOf({ summary, settled, measurement }: SampleEntry) {
  const sampleRate = summary.sampleRate ?? 44100;
  const frames = Math.round((summary.durationSeconds ?? 0) * sampleRate);
  const frameOf = (seconds: number) => Math.max(0, Math.min(frames, Math.round(seconds * sampleRate)));
  const { grid } = settled;
  if (!grid) return { sampleRate, loop: null, bars: [] };
  const bars = barLines(grid, summary.durationSeconds ?? 0).map(({ time, bar }) => ({
    frame: frameOf(time),
    label: `Bar ${bar}`,
  }));
  // As it is settled: the loop that was chosen, or the bars that the settled tempo and time signature count.
  const {
    bar,
    bars: count,
    shiftSeconds,
  } = settled.loop ?? {
    bar: 1,
    bars: barsOf(grid, measurement, summary.durationSeconds) ?? 0,
    shiftSeconds: 0,
  };
  const loop =
    count > 0 && (settled.loop !== null || summary.kind === 'loop')
      ? {
          start: frameOf(barTime(grid, bar) + shiftSeconds),
          end: frameOf(barTime(grid, bar + count) + shiftSeconds),
        }
      : null;
  return { sampleRate, loop: loop && loop.end > loop.start ? loop : null, bars };
}

function barLines(grid: Grid, durationSeconds: number): { time: number; bar: number }[] {
  const lines: { time: number; bar: number }[] = [];
  for (let bar = 1; ; bar++) {
    const time = barTime(grid, bar);
    if (time >= durationSeconds - 0.01) return lines;
    if (time >= 0) lines.push({ time, bar });
  }
}
