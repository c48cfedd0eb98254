import { createHash } from 'node:crypto';
import { createWriteStream, type Dirent } from 'node:fs';
import {
  appendFile,
  lstat,
  mkdir,
  readdir,
  readFile,
  rename,
  rm,
  rmdir,
  unlink,
  writeFile,
} from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { shelfQuery, shelfView, type ShelfView } from '@/contract/shelfQuery';
import { mirrorPath } from '@/library/mirror/mirrorPath';
import {
  isSame,
  mirrored,
  mirrorPlan,
  type Found,
  type Known,
  type Mirrored,
  type MirrorPlan,
  type Wanted,
  type Written,
} from '@/library/mirror/mirrorPlan';
import { safeStem } from '@/library/packs/fileNames';
import { playList } from '@/library/packs/playList';
import { meantBy } from '@/library/search/meantBy';
import { database, whileMirroring } from '@/store/database';
import { listSearches } from '@/store/searches';
import { shelfTargets } from '@/store/shelfList';
import { readSummaries } from '@/store/summaries';
import { fileOf } from './sampleArchive';
import { UserError } from './userError';

/** Where the mirror keeps what it knows, within its folder. */
const OWN = '.grento';
const VERSION = 1;
/** Raised when tagged copies are written otherwise: all are written anew. */
const COPIES = 1;
/** Rows are read in portions of so many. */
const PORTION = 500;

export interface MirrorOptions {
  folder: string;
  /** What of the Shelf: as it is typed into its search. */
  search: string;
  /** … or the name of a saved search. */
  saved: string | null;
  /** Templates of the folders within it, and of the names. */
  folders: string;
  template: string;
  /** Empties the folder where nothing is found any more. */
  isEmptied: boolean;
  tell: (done: number, of: number) => void;
  signal: AbortSignal;
}

export interface Mirroring {
  unchanged: number;
  written: number;
  removed: number;
  /** A sentence for each thing that is not as it is wanted. */
  troubles: string[];
  isWhole: boolean;
}

const kept = z.object({ version: z.number(), files: z.record(z.string(), mirrored) });
const line = z.object({ path: z.string(), is: mirrored.nullable() });

/**
 * Makes a folder hold tagged copies of what is saved, and a play list of each saved search: only what changed is written, what is not found
 * any more is removed, and what the mirror did not write is never touched. Killed at any moment it goes on where it was. Throws UserError
 * for what makes no sense, and for a folder that cannot be used.
 */
export async function mirrorShelf(options: MirrorOptions): Promise<Mirroring> {
  const root = resolve(options.folder);
  return whileMirroring(root, async (isAlone) => {
    if (!isAlone) throw new UserError(`“${root}” is being mirrored to already.`, 409);
    try {
      return await new Mirror(root, options).run();
    } catch (error) {
      throw sentenceOf(error, root);
    }
  });
}

class Mirror {
  private known = new Map<string, Mirrored>();
  /** What this run has written. */
  private readonly fresh = new Set<string>();
  private readonly result: Mirroring = { unchanged: 0, written: 0, removed: 0, troubles: [], isWhole: false };

  constructor(
    private readonly root: string,
    private readonly options: MirrorOptions,
  ) {}

  async run(): Promise<Mirroring> {
    const { options, result } = this;
    // Not with all that is above it: a mistyped path is no wish for folders.
    for (const folder of [this.root, this.at(OWN)])
      await mkdir(folder).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'EEXIST') throw error;
      });
    await this.read();
    const samples = await this.samples();
    const found = await this.found();
    const plan = mirrorPlan(samples, this.ofKind(true), found);
    if (samples.length === 0 && plan.remove.length > 0 && !options.isEmptied)
      throw new UserError(
        `Nothing is found, so that all ${plan.remove.length} files in “${this.root}” would be removed. With --empty they are.`,
        409,
      );
    const lists = await this.lists(samples, plan);
    const listPlan = mirrorPlan(
      lists,
      this.ofKind(false),
      new Map([
        ...found,
        ...[...plan.paths.values()].map((path): [string, Written] => [path, found.get(path) ?? NEVER]),
      ]),
    );
    for (const path of [...plan.foreign, ...listPlan.foreign])
      result.troubles.push(`“${path}” was changed by somebody else; it is left as it is.`);
    const all = plan.write.length + listPlan.write.length;
    result.unchanged = plan.unchanged + listPlan.unchanged;
    for (const path of [...plan.forgotten, ...listPlan.forgotten]) await this.note(path, null);
    for (const path of [...plan.remove, ...listPlan.remove]) await this.remove(path);
    for (const [at, one] of [...plan.write, ...listPlan.write].entries()) {
      if (options.signal.aborted) return result;
      options.tell(at, all);
      await this.write(one);
    }
    await this.keep(found);
    return { ...result, isWhole: true };
  }

  private at(path: string): string {
    return join(this.root, path);
  }

  private ofKind(isSample: boolean): Known {
    return new Map([...this.known].filter(([, { sampleId }]) => (sampleId !== null) === isSample));
  }

  /** What the last run kept, and what a run that was ended did after it. */
  private async read() {
    const text = await readFile(this.at(`${OWN}/mirror.json`), 'utf8').catch(noFile);
    if (text !== null) {
      const read = kept.safeParse(parsed(text));
      if (!read.success || read.data.version !== VERSION)
        throw new UserError(
          `“${this.at(OWN)}” cannot be read: it is damaged, or of another version of Grento. Without that folder all files here count as yours.`,
          409,
        );
      this.known = new Map(Object.entries(read.data.files));
    }
    for (const one of ((await readFile(this.at(`${OWN}/journal.jsonl`), 'utf8').catch(noFile)) ?? '').split(
      '\n',
    )) {
      // The last line may have been cut off.
      const read = line.safeParse(parsed(one));
      if (read.success) this.set(read.data.path, read.data.is);
    }
    for (const name of await readdir(this.at(OWN)))
      if (name.startsWith('part')) await unlink(this.at(`${OWN}/${name}`));
  }

  private set(path: string, is: Mirrored | null) {
    if (is) this.known.set(path, is);
    else this.known.delete(path);
  }

  private async note(path: string, is: Mirrored | null) {
    await appendFile(this.at(`${OWN}/journal.jsonl`), `${JSON.stringify({ path, is })}\n`, { flush: true });
    this.set(path, is);
  }

  /** Keeps what is known in one piece: all of it stands in its place now; what is not there any more is forgotten. */
  private async keep(found: Found) {
    const there = [...this.known].filter(([path]) => found.has(path) || this.fresh.has(path));
    const files = Object.fromEntries(there.map(([path, is]) => [path, { ...is, before: null }]));
    await writeFile(this.at(`${OWN}/part`), JSON.stringify({ version: VERSION, files }), { flush: true });
    await rename(this.at(`${OWN}/part`), this.at(`${OWN}/mirror.json`));
    await rm(this.at(`${OWN}/journal.jsonl`), { force: true });
  }

  /** What lies in the folder; of files that are not the mirror's, and of what is no file, only that they are there. */
  private async found(): Promise<Found> {
    const found = new Map<string, Written>();
    const walk = async (folder: string): Promise<void> => {
      const entries = await readdir(this.at(folder), { withFileTypes: true });
      const look = async (entry: Dirent) => {
        const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
        if (path === OWN) return;
        if (entry.isDirectory()) await walk(path);
        else found.set(path, (entry.isFile() && this.known.has(path) && (await this.fileAt(path))) || NEVER);
      };
      await Promise.all(entries.map(look));
    };
    await walk('');
    return found;
  }

  private async fileAt(path: string): Promise<Written | null> {
    const is = await lstat(this.at(path)).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null;
      throw error;
    });
    return is && { size: is.size, mtimeMs: is.mtimeMs };
  }

  private async viewed(): Promise<ShelfView> {
    const { saved, search } = this.options;
    if (saved === null) return shelfView.parse({ text: search });
    const one = (await listSearches()).find(({ name }) => name.toLowerCase() === saved.toLowerCase());
    if (!one) throw new UserError(`There is no saved search “${saved}”.`, 404);
    return one.asked;
  }

  /** The samples that are to be there, by name, each with its path. */
  private async samples(): Promise<Wanted[]> {
    const { folders, template } = this.options;
    const targets = await targetsOf(await this.viewed());
    const by = createHash('sha256')
      .update(JSON.stringify([folders, template]))
      .digest('hex')
      .slice(0, 12);
    const stateOf = (base: number | null) => `${COPIES} ${base} ${by}`;
    const there = new Map(
      [...this.known].flatMap(([, is]) => (is.sampleId === null ? [] : [[is.sampleId, is]])),
    );
    const changed = targets.filter(({ sampleId, base }) => there.get(sampleId)?.state !== stateOf(base));
    const paths = new Map<string, { path: string; seconds: number | null }>();
    for (let i = 0; i < changed.length; i += PORTION) {
      const ids = changed.slice(i, i + PORTION).map(({ sampleId }) => sampleId);
      for (const row of await readSummaries(database(), ids)) {
        const path = pathOf(row, folders, template);
        paths.set(row.sampleId, { path, seconds: row.durationSeconds });
      }
    }
    return targets.flatMap(({ sampleId, base }) => {
      const is = there.get(sampleId);
      const here = paths.get(sampleId) ?? (is && { path: is.wanted, seconds: is.seconds });
      // What was deleted meanwhile has neither.
      return here ? [{ sampleId, state: stateOf(base), ...here }] : [];
    });
  }

  /** A play list of each saved search, of the files that are here. */
  private async lists(samples: readonly Wanted[], plan: MirrorPlan): Promise<(Wanted & { text: string })[]> {
    const here = new Map(
      samples.map((one) => [one.sampleId, { path: plan.paths.get(one), seconds: one.seconds }]),
    );
    const lists: (Wanted & { text: string })[] = [];
    for (const { name, asked } of await listSearches()) {
      const files = (await targetsOf(asked)).flatMap(({ sampleId }) => {
        const { path, seconds = null } = here.get(sampleId) ?? {};
        return path === undefined ? [] : [{ path, seconds }];
      });
      if (files.length === 0) continue;
      const text = playList(name, files);
      const state = createHash('sha256').update(text).digest('hex');
      lists.push({ sampleId: null, state, seconds: null, path: `${safeStem(name)}.m3u8`, text });
    }
    return lists;
  }

  private async remove(path: string) {
    await rm(this.at(path), { force: true });
    await this.note(path, null);
    this.result.removed++;
    // Folders that are empty now go as well.
    for (let folder = dirname(path); folder !== '.'; folder = dirname(folder))
      if (
        !(await rmdir(this.at(folder)).then(
          () => true,
          () => false,
        ))
      )
        break;
  }

  /** Written beside, told in the journal, and then put in its place in one go. */
  private async write(one: Wanted & { to: string; text?: string }) {
    const { sampleId, state, seconds, path: wanted, to } = one;
    const part = this.at(`${OWN}/part`);
    try {
      const bytes =
        sampleId === null ? [one.text!] : (await fileOf(sampleId, 'tagged', this.result.troubles)).bytes;
      await pipeline(Readable.from(bytes), createWriteStream(part, { flush: true }));
    } catch (error) {
      await rm(part, { force: true });
      if (!(error instanceof UserError)) throw error;
      this.result.troubles.push(`“${to}” is not written: ${error.message}`);
      return;
    }
    const file = (await this.fileAt(`${OWN}/part`))!;
    const now = await this.fileAt(to);
    const before = this.known.get(to);
    if (now && !isSame(before?.file, now) && !isSame(before?.before, now)) {
      await rm(part, { force: true });
      this.result.troubles.push(`“${to}” has just been written by somebody else; it is left as it is.`);
      return;
    }
    for (const folder of foldersAbove(to))
      await mkdir(this.at(folder)).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'EEXIST') throw error;
      });
    await this.note(to, { sampleId, state, seconds, wanted, file, before: now });
    await rename(part, this.at(to));
    this.fresh.add(to);
    this.result.written++;
  }
}

/** Something of which nothing is known but that it is there. */
const NEVER: Written = { size: -1, mtimeMs: -1 };

const foldersAbove = (path: string): string[] => {
  const parts = path.split('/').slice(0, -1);
  return parts.map((_, i) => parts.slice(0, i + 1).join('/'));
};

/** What a question to the Shelf finds, by name, so that numbers behind equal names stay. */
const targetsOf = (view: ShelfView) =>
  shelfTargets(
    shelfQuery.parse({ ...meantBy(view), sort: 'name', direction: 'up', like: null }),
    Number.MAX_SAFE_INTEGER,
  );

function pathOf(...asked: Parameters<typeof mirrorPath>): string {
  try {
    return mirrorPath(...asked);
  } catch (error) {
    throw new UserError((error as Error).message, 422);
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function noFile(error: NodeJS.ErrnoException): null {
  if (error.code === 'ENOENT') return null;
  throw error;
}

const SENTENCES: Readonly<Record<string, string>> = {
  ENOENT: 'the folder above it does not exist',
  EACCES: 'this account may not write there',
  EPERM: 'this account may not write there',
  EROFS: 'it lies on a disk that is read-only',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk quota is used up',
  ENOTDIR: 'a part of its path is a file',
  EXDEV: 'a folder within it lies on another disk',
  ENAMETOOLONG: 'a path in it would be too long',
};

/** What the system refuses, in a sentence; what was written until then stands. */
function sentenceOf(error: unknown, folder: string): unknown {
  const { code } = error as NodeJS.ErrnoException;
  const why = typeof code === 'string' ? SENTENCES[code] : undefined;
  return why ? new UserError(`“${folder}” cannot be mirrored to: ${why}.`, 422) : error;
}
