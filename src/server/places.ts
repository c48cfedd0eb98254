import { createReadStream, type Stats } from 'node:fs';
import { readdir, realpath, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, dirname, isAbsolute, join, relative, sep } from 'node:path';
import { guardRoot, isBelow } from './roots';
import pLimit from 'p-limit';
import { z } from 'zod';
import { keyLabel } from '@/core/harmony/keyNames';
import { AUDIO_EXTENSIONS } from '@/core/formats/endings';
import { isArchiveName, isZip, SNIFF_BYTES, sniffType } from '@/core/formats/sniff';
import { decodeAudio } from '@/core/formats/decode';
import { MEDIA_TYPES, type AudioFormat } from '@/core/formats/audioFormat';
import { placeRequest, type BegunTask, type FilePeek, type Place, type PlaceFolder } from '@/contract/places';
import { readNameAndFolder } from '@/core/readings/nameReading';
import { peakBuilder } from '@/core/signal/peaks';
import { database } from '@/store/database';
import { makeTask, type NewItem } from '@/store/longTasks';
import * as store from '@/store/places';
import { filesHere } from '@/store/samples';
import { log } from './log';
import { openMp4 } from './mp4';
import { parseRange } from './originalRange';
import { perFile } from './perFile';
import { thumbnailOf } from './thumbnail';
import { UserError } from './userError';

export { listPlaces } from '@/store/places';

/** Keeps a folder of the server for looking through. Throws UserError when it is none. */
export async function keepPlace(input: unknown): Promise<Place> {
  const { path } = placeRequest.parse(input);
  if (!isAbsolute(path)) throw new UserError(`“${path}” is not an absolute path, such as /srv/samples.`);
  const real = await realpath(path).catch(() => null);
  if (!real || !(await stat(real)).isDirectory())
    throw new UserError(`There is no folder “${path}” on this machine.`, 422);
  guardRoot(path, real);
  await readdir(real).catch(() => {
    throw new UserError(`The folder “${path}” may not be read.`, 422);
  });
  log.info({ event: 'place kept', path: real });
  return store.addPlace(real);
}

export async function watchPlace(placeId: number, input: unknown): Promise<Place> {
  const { watched } = z.object({ watched: z.boolean() }).parse(input);
  const place = await store.changePlace(placeId, { watched, fault: null });
  if (!place) throw noPlace();
  return place;
}

export async function forgetPlace(placeId: number): Promise<void> {
  if (!(await store.forgetPlace(placeId))) throw noPlace();
}

const noPlace = () => new UserError('There is no such folder.', 404);

/** The whole path of something below a place. Throws UserError for what lies outside, also behind a link. */
async function inside(placeId: number, path: string): Promise<{ place: Place; full: string }> {
  const place = await store.readPlace(placeId);
  if (!place) throw noPlace();
  const wanted = join(place.path, path);
  const full = await realpath(wanted).catch(() => null);
  if (!full) throw new UserError(`“${path || place.path}” is no longer there.`, 404);
  // It may have been kept before its folder was closed.
  guardRoot(place.path, place.path);
  if (!isBelow(place.path, full)) throw new UserError(`“${path}” is outside the folder.`, 403);
  return { place, full };
}

/** What of a place is listed, heard and taken: by its name; what it holds is told by its content later. */
const isWanted = (name: string) =>
  !name.startsWith('.') && (AUDIO_EXTENSIONS.test(name) || isArchiveName(name));

/** An audio, MIDI or ZIP file below a place. Throws UserError for anything else, as pipes and devices are. */
export async function fileInside(placeId: number, path: string) {
  const { place, full } = await inside(placeId, path);
  const info = await stat(full);
  if (!info.isFile()) throw new UserError(`“${path}” is not a file.`, 422);
  if (!isWanted(basename(full))) throw new UserError(`“${path}” is not named as audio, MIDI or ZIP.`, 403);
  return { place, full, info };
}

/** As the Intake names the folder of a file from a place: the place's own name and the way down from there. */
export function folderInIntake(place: Pick<Place, 'path'>, path: string): string {
  const way = dirname(path);
  return [basename(place.path), way === '.' ? '' : way.split(sep).join('/')].filter(Boolean).join('/');
}

/** What lies in one folder of a folder. Throws UserError when it cannot be read. */
export async function lookInto(placeId: number, path: string): Promise<PlaceFolder> {
  const { place, full } = await inside(placeId, path);
  const entries = await readdir(full, { withFileTypes: true }).catch(() => {
    throw new UserError(`The folder “${path || place.path}” may not be read.`, 422);
  });
  const folders: PlaceFolder['folders'] = [];
  const found: { name: string; byteLength: number; modifiedMs: number }[] = [];
  let others = 0;
  for (const entry of entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))) {
    if (entry.name.startsWith('.')) continue;
    const real = await realpath(join(full, entry.name)).catch(() => null);
    // A link that leads out of the place is not followed, nor told of.
    if (!real || !isBelow(place.path, real)) continue;
    const info = await stat(real).catch(() => null);
    if (info?.isDirectory()) {
      const inner = await readdir(real).catch(() => []);
      folders.push({ name: entry.name, files: inner.filter(isWanted).length });
    } else if (info?.isFile() && isWanted(entry.name))
      found.push({ name: entry.name, byteLength: info.size, modifiedMs: Math.floor(info.mtimeMs) });
    else others++;
  }
  const folder = folderInIntake(place, join(path, 'x'));
  const here = await filesHere(found.map((file) => ({ ...file, folder })));
  const files = found.map((file, i) => {
    const readings = readNameAndFolder(file.name, folder);
    const tempo = readings.find(({ property }) => property === 'tempo');
    const key = readings.find(({ property }) => property === 'key');
    return {
      ...file,
      tempo: tempo?.property === 'tempo' ? `${tempo.value} BPM` : null,
      key: key?.property === 'key' && 'tonic' in key.value ? keyLabel(key.value) : null,
      takenIn: here[i] !== null,
    };
  });
  return { placeId, path, folders, files, others };
}

/** Longer files are not looked into: it would take too long. */
const LARGEST_PEEK = 400e6;
const peekOnce = perFile(2000, (full) => inTurn(() => peek(full)));
/** A few at a time, and one core is left for whoever waits for a page: a folder of hundreds asks for all that are in sight at once. */
const inTurn = pLimit(Math.max(1, availableParallelism() - 1));

/** Length and waveform of a file in a folder, from decoding it; remembered as long as it does not change. */
export async function peekInto(placeId: number, path: string): Promise<FilePeek> {
  const { full, info } = await fileInside(placeId, path);
  if (isZip(await headOf(full)))
    return {
      durationSeconds: null,
      thumbnail: null,
      fault: 'an archive; it is unpacked when imported',
    };
  if (info.size > LARGEST_PEEK)
    return { durationSeconds: null, thumbnail: null, fault: 'too large to preview before importing' };
  return peekOnce({ full, info });
}

async function peek(full: string): Promise<FilePeek> {
  try {
    const type = sniffType(await headOf(full));
    let peaks: ReturnType<typeof peakBuilder> | null = null;
    const open = (): AsyncIterable<Uint8Array> =>
      type.format === 'mp4' ? openMp4(full).flac : createReadStream(full);
    const audio = await decodeAudio(open, (block, sampleRate) => {
      (peaks ??= peakBuilder(sampleRate)).push(block);
    });
    const thumbnail = base64(thumbnailOf(peaks!.finish()));
    return { durationSeconds: audio.frames / audio.sampleRate, thumbnail, fault: null };
  } catch (error) {
    return { durationSeconds: null, thumbnail: null, fault: (error as Error).message };
  }
}

async function headOf(full: string): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  for await (const part of createReadStream(full, { end: SNIFF_BYTES - 1 })) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

const base64 = (values: Int8Array) =>
  Buffer.from(values.buffer, values.byteOffset, values.byteLength).toString('base64');

/** Throws UserError for a file that holds no audio, whatever it is called. */
function guardContent(path: string, format: ReturnType<typeof sniffType>['format'], { size }: Stats): void {
  if (format === 'other' && size > 0) throw new UserError(`“${path}” holds no audio.`, 422);
}

/** The bytes of a file in a folder, for hearing it there. */
export async function placeFile(placeId: number, path: string, rangeHeader: string | null) {
  const { full, info } = await fileInside(placeId, path);
  const type = sniffType(await headOf(full));
  guardContent(path, type.format, info);
  if (type.format === 'mp4')
    return { mediaType: MEDIA_TYPES.flac, bytes: openMp4(full).flac, from: 0, to: null, byteLength: null };
  const { from, to } = parseRange(rangeHeader, info.size);
  const bytes = createReadStream(full, {
    start: from,
    end: Math.max(from, to - 1),
  }) as AsyncIterable<Uint8Array>;
  const mediaType = MEDIA_TYPES[type.format as AudioFormat];
  return {
    mediaType,
    bytes: bytes[Symbol.asyncIterator]() as AsyncGenerator<Uint8Array>,
    from,
    to,
    byteLength: info.size,
  };
}

const takeRequest = z.object({ paths: z.array(z.string().max(2000)).min(1).max(5000) });
const MOST_FILES = 20_000;

/** Takes files and whole folders of a folder in, by a task. What is here already is left out. */
export async function takeFromPlace(placeId: number, input: unknown): Promise<BegunTask> {
  const { paths } = takeRequest.parse(input);
  const items: NewItem[] = [];
  let place: Place | null = null;
  for (const path of paths) {
    const found = await inside(placeId, path);
    place = found.place;
    await gather(found.place, found.full, items);
  }
  const here = await filesHere(
    items.map(({ name, folder, byteLength, modifiedMs }) => ({
      name,
      folder,
      byteLength: byteLength!,
      modifiedMs: modifiedMs!,
    })),
  );
  const fresh = items.filter((_, i) => !here[i]);
  if (fresh.length === 0) throw new UserError('All of these files are imported already.', 422);
  const taskId = await makeTask(database(), 'bring', `from ${place!.path}`, { placeId }, fresh);
  return { taskId, files: fresh.length };
}

async function gather(place: Place, full: string, items: NewItem[]): Promise<void> {
  const info = await stat(full);
  if (info.isFile() && isWanted(basename(full))) {
    if (items.length >= MOST_FILES)
      throw new UserError(`More than ${MOST_FILES} files at once; select smaller folders.`, 422);
    const path = relative(place.path, full);
    items.push({
      name: basename(full),
      folder: folderInIntake(place, path),
      path,
      byteLength: info.size,
      modifiedMs: Math.floor(info.mtimeMs),
    });
    return;
  }
  if (!info.isDirectory())
    throw new UserError(`“${relative(place.path, full)}” is not named as audio, MIDI or ZIP.`, 422);
  for (const entry of await readdir(full, { withFileTypes: true }))
    // Links are not followed: they may lead out of the place, or round in circles.
    if ((entry.isDirectory() && !entry.name.startsWith('.')) || (entry.isFile() && isWanted(entry.name)))
      await gather(place, join(full, entry.name), items);
}

/** A file of a place for a task: its bytes from `from` on. Throws UserError when it is gone. */
export async function openInPlace(
  placeId: number,
  path: string,
  from: number,
): Promise<AsyncIterable<Uint8Array>> {
  const { full, info } = await fileInside(placeId, path);
  // Another link to it may lie where nobody may look: then it has to be audio.
  if (info.nlink > 1 && !isArchiveName(path)) guardContent(path, sniffType(await headOf(full)).format, info);
  return createReadStream(full, { start: from }) as AsyncIterable<Uint8Array>;
}
