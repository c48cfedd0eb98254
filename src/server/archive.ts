import { PassThrough, pipeline, Readable } from 'node:stream';
import {
  fromRandomAccessReader,
  getFileNameLowLevel,
  RandomAccessReader,
  validateFileName,
  type Entry,
  type ZipFile,
} from 'yauzl';
import { AUDIO_EXTENSIONS } from '@/core/formats/endings';
import { isArchiveName } from '@/core/formats/sniff';
import type { Payload } from '@/contract/tasks';
import type { NewItem } from '@/store/longTasks';
import { originalLength, readOriginal } from '@/store/originalBytes';
import { inMegabytes, largestFileBytes } from './limits';
import { openPack, type OpenPack } from './openPack';
import { isBusy, UserError } from './userError';

export interface OpenArchive {
  entries: NewItem[];
  /** Files that are not unpacked, each with its reason. */
  refused: (NewItem & { fault: string })[];
  /** For each of the archives inside: an equal share of what is left of the limits. */
  inside: Within;
  /** What it knows of its files, where it is a pack; null for any other. */
  pack: OpenPack | null;
  /** The bytes of an entry; ends with a UserError when more come out than the archive says. */
  bytesOf(path: string): Promise<AsyncIterable<Uint8Array>>;
  close(): void;
}

const MOST_ENTRIES = 20_000;
/** Audio hardly shrinks: what grows by more than this was made to fill the disk. */
const MOST_GROWTH = 200;
/** Lists of a pack, and what it knows of a file, are no larger, bytes. */
const LARGEST_TEXT = 32 * 1024 * 1024;
/** Archives in archives are unpacked so far down. */
const DEEPEST = 3;

/** How deep an archive lies in others, and what may still come out of it and of those inside of it. */
export type Within = NonNullable<Payload<'unpack'>['within']>;
const outermost = (): Within => ({ depth: 0, files: MOST_ENTRIES, bytes: mostUnpacked() });

/** All that may come out of one archive, bytes; GRENTO_MAX_UNPACKED_MB sets it. */
const mostUnpacked = () => Number(process.env.GRENTO_MAX_UNPACKED_MB ?? 20_480) * 1024 * 1024;

/** The list of an archive is read in small pieces: this much of it is fetched at once, bytes. */
const READ_AHEAD = 256 * 1024;

/** Reads an archive out of the store in any part. */
class StoredReader extends RandomAccessReader {
  private ahead = { from: 0, bytes: Buffer.alloc(0) };
  constructor(
    private originalId: number,
    private byteLength: number,
  ) {
    super();
  }
  override _readStreamForRange(start: number, end: number): Readable {
    return Readable.from(readOriginal(this.originalId, start, end), { objectMode: false });
  }
  override read(
    buffer: Buffer,
    offset: number,
    length: number,
    position: number,
    callback: (error: Error | null) => void,
  ): void {
    this.readInto(buffer, offset, length, position).then(
      () => callback(null),
      (error: Error) => callback(error),
    );
  }
  private async readInto(buffer: Buffer, offset: number, length: number, position: number) {
    const isAhead =
      position >= this.ahead.from && position + length <= this.ahead.from + this.ahead.bytes.length;
    if (!isAhead) {
      const end = Math.min(this.byteLength, position + Math.max(length, READ_AHEAD));
      const parts: Uint8Array[] = [];
      for await (const part of readOriginal(this.originalId, position, end)) parts.push(part);
      this.ahead = { from: position, bytes: Buffer.concat(parts) };
    }
    const { from, bytes } = this.ahead;
    bytes.copy(buffer, offset, position - from, position - from + length);
  }
}

/** The path of an entry, with `/` between its folders also where a programme wrote `\\`. */
const pathOf = ({ generalPurposeBitFlag, fileNameRaw, extraFields }: Entry): string =>
  getFileNameLowLevel(generalPurposeBitFlag, fileNameRaw, extraFields, false).replaceAll('\0', '');

/**
 * Opens a ZIP archive that was imported. Entries whose names lead elsewhere (absolute, or with ".."),
 * that are encrypted or that are no audio are refused by themselves; an archive that expands
 * beyond all measure, or is damaged, as a whole. Archives inside of it are entries like others; limits hold for the
 * whole tree together. Throws UserError with a sentence.
 */
export async function openArchive(
  originalId: number,
  folder: string,
  within: Within = outermost(),
): Promise<OpenArchive> {
  const byteLength = await originalLength(originalId);
  if (byteLength === null) throw new UserError('The archive is no longer there; send it again.', 404);
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    fromRandomAccessReader(
      new StoredReader(originalId, byteLength),
      byteLength,
      // Names are read below: one that is refused does not cost the others.
      { lazyEntries: true, autoClose: false, decodeStrings: false, validateEntrySizes: true },
      (error, opened) => (error ? reject(damaged(error)) : resolve(opened)),
    ),
  );
  const tooMany = () =>
    new UserError(`The archive holds more than ${MOST_ENTRIES} files, including other files.`, 422);
  // Its list need not be read to know that.
  if (zip.entryCount > 2 * MOST_ENTRIES) {
    zip.close();
    throw tooMany();
  }
  const found = new Map<string, Entry>();
  /** Everything in it that could be read, files of a pack that are no samples as well. */
  const all = new Map<string, Entry>();
  const entries: NewItem[] = [];
  const refused: OpenArchive['refused'] = [];
  let unpacked = 0;
  await new Promise<void>((resolve, reject) => {
    zip.on('error', (error) => reject(damaged(error)));
    zip.on('end', resolve);
    zip.on('entry', (entry: Entry) => {
      const path = pathOf(entry);
      const name = path.split('/').pop() || path;
      const way = path.split('/').slice(0, -1).join('/');
      const item: NewItem = {
        name: name.slice(0, 300),
        folder: [folder, way].filter(Boolean).join('/').slice(0, 1000),
        path,
        byteLength: entry.uncompressedSize,
        modifiedMs: entry.getLastModDate().getTime(),
      };
      const refuse = (fault: string) => refused.push({ ...item, folder, fault });
      // Folders, and what systems put beside files.
      const aside = path.endsWith('/') || name.startsWith('.') || path.startsWith('__MACOSX/');
      if (!aside) {
        unpacked += entry.uncompressedSize;
        const odd = validateFileName(path);
        if (odd) refuse('Its path leads outside the archive; it was not unpacked.');
        else if (entry.generalPurposeBitFlag & 1) refuse('It is encrypted.');
        else if (isArchiveName(name) && within.depth >= DEEPEST)
          refuse(`It is an archive inside of ${DEEPEST} others, which is too deep.`);
        else if (!AUDIO_EXTENSIONS.test(name) && !isArchiveName(name))
          refuse('Its name is not that of an audio or MIDI file.');
        else if (entry.uncompressedSize > largestFileBytes())
          refuse(`It is larger than ${inMegabytes(largestFileBytes())}, the limit for imports.`);
        else if (entry.uncompressedSize > MOST_GROWTH * Math.max(1000, entry.compressedSize))
          refuse(`It grows more than ${MOST_GROWTH} times when unpacked, which audio never does.`);
        else if (found.has(path)) refuse('Another file of the archive has the same path.');
        else {
          entries.push(item);
          found.set(path, entry);
        }
        if (!odd && !(entry.generalPurposeBitFlag & 1)) all.set(path, entry);
      }
      if (entries.length + refused.length > within.files) return reject(tooMany());
      if (unpacked > within.bytes)
        return reject(
          new UserError(
            `The archive would unpack to more than ${inMegabytes(within.bytes)}, the limit.`,
            422,
          ),
        );
      zip.readEntry();
    });
    zip.readEntry();
  }).catch((error) => {
    zip.close();
    throw error;
  });
  const textOf = async (path: string) => {
    const entry = all.get(path);
    if (!entry || entry.uncompressedSize > LARGEST_TEXT) return null;
    const parts: Uint8Array[] = [];
    for await (const part of whole(await streamOf(zip, entry), path)) parts.push(part);
    return Buffer.concat(parts).toString('utf8');
  };
  const pack = await openPack([...all.keys()], textOf).catch((error) => {
    zip.close();
    throw error;
  });
  if (pack) {
    // Of a pack its samples come in; the rest of it was made from them, or is about them.
    const samplesOf = <I extends NewItem>(items: I[]): I[] =>
      items.flatMap((item) => {
        const own = pack.folderOf(item.path);
        return own === null
          ? []
          : [{ ...item, folder: [folder, own].filter(Boolean).join('/').slice(0, 1000) }];
      });
    entries.splice(0, entries.length, ...samplesOf(entries));
    refused.splice(0, refused.length, ...samplesOf(refused));
  }
  if (entries.length === 0 && refused.length === 0) throw new UserError('The archive holds no files.', 422);
  const archives = Math.max(1, entries.filter(({ name }) => isArchiveName(name)).length);
  return {
    entries,
    refused,
    inside: {
      depth: within.depth + 1,
      files: Math.floor((within.files - entries.length - refused.length) / archives),
      bytes: (within.bytes - unpacked) / archives,
    },
    pack,
    bytesOf: (path) =>
      new Promise((resolve, reject) => {
        const entry = found.get(path);
        if (!entry) return reject(new UserError(`“${path}” is not in the archive.`, 404));
        streamOf(zip, entry).then((stream) => resolve(whole(stream, path)), reject);
      }),
    close: () => zip.close(),
  };
}

/** The bytes of an entry. An error that comes before somebody reads them is kept for whoever does. */
const streamOf = (zip: ZipFile, entry: Entry) =>
  new Promise<Readable>((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) =>
      error ? reject(damaged(error)) : resolve(pipeline(stream, new PassThrough(), () => {})),
    ),
  );

/** Damage inside an entry ends as a sentence about that file. */
async function* whole(stream: Readable, path: string): AsyncGenerator<Uint8Array> {
  try {
    for await (const part of stream) yield part as Buffer;
  } catch (error) {
    if (isBusy(error)) throw error;
    throw new UserError(`“${path}” is damaged in the archive: ${(error as Error).message}.`, 422);
  }
}

function damaged(error: Error): UserError {
  return new UserError(`The archive cannot be read: ${error.message.replace(/\.$/, '')}.`, 422);
}
