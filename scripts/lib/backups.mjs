// @ts-check
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import {
  connected,
  databaseOf,
  inDatabase,
  inNewDatabase,
  ProgramError,
  quoted,
  runProgram,
} from './databases.mjs';
import { migrate } from './migrate.mjs';
import { projectFolder } from './project.mjs';

/** Told what is being done, in words. @typedef {(text: string) => void} Tell */
/** Rows of each table. @typedef {Record<string, number>} Counts */

/** A reason that whoever asked can act on. */
export class BackupError extends Error {}

/** Databases into which a backup is only read to be looked at, and such that become the library. */
const SCRATCH = 'grento_check_';
const ARRIVING = 'grento_arriving_';
/** Names that are given to backups in a folder; only these are ever removed from it. */
const NAME = /^grento-\d{4}-\d\d-\d\d-\d{6}\.backup$/;

/** How many rows every table of the library has. @param {import('pg').Client} client @returns {Promise<Counts>} */
async function countRows(client) {
  const { rows } = await client.query(
    "select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE' order by 1",
  );
  /** @type {Counts} */
  const counts = {};
  for (const { name } of rows) {
    const counted = await client.query(`select count(*)::integer as count from ${quoted(name)}`);
    counts[name] = counted.rows[0].count;
  }
  return counts;
}

/**
 * Originals whose bytes are not those that their checksum names.
 * @param {import('pg').Client} client @param {AbortSignal} [signal] @returns {Promise<string[]>}
 */
async function wrongOriginals(client, signal) {
  const { rows } = await client.query(
    'select original_id as id, sha256 from originals where sha256 is not null order by original_id',
  );
  /** @type {string[]} */
  const wrong = [];
  for (const { id, sha256 } of rows) {
    const hash = createHash('sha256');
    for (let at = 0; ; at += 16) {
      signal?.throwIfAborted();
      const chunks = await client.query(
        'select bytes from original_chunks where original_id = $1 and chunk_index between $2 and $2 + 15 order by chunk_index',
        [id, at],
      );
      for (const { bytes } of chunks.rows) hash.update(bytes);
      if (chunks.rows.length < 16) break;
    }
    if (hash.digest('hex') !== sha256) wrong.push(sha256);
  }
  return wrong;
}

/** Reads a backup into an empty database. @param {string} url @param {string} file @param {AbortSignal} [signal] */
async function readInto(url, file, signal) {
  await runProgram(
    'pg_restore',
    url,
    ['--exit-on-error', '--no-owner', '--no-privileges', '--jobs=2', `--dbname=${databaseOf(url)}`, file],
    signal,
  );
}

/** A file's bytes are on the disk, and so is its name. @param {string} file */
async function reachDisk(file) {
  for (const path of [file, dirname(file)]) {
    const handle = await open(path, 'r');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
  }
}

/** `grento-2026-12-02-143905.backup` @param {Date} date */
const nameAt = (date) =>
  `grento-${date.toISOString().slice(0, 19).replace('T', '-').replaceAll(':', '')}.backup`;

/**
 * Writes a backup of the library: all of it as it is at one moment, while Grento may run. It is read back into a database of its own,
 * counted and every original compared with its checksum. `to` is a file that is not there yet, or a folder (a name without an extension), in which the backups beyond the
 * newest `keep` are removed. Nothing that looks whole is left of one that was not finished. Throws BackupError with a sentence.
 * @param {{ url: string, to: string, keep?: number | null, isVerified?: boolean, tell?: Tell, signal?: AbortSignal }} options
 * @returns {Promise<{ file: string, bytes: number, samples: number, seconds: number, removed: string[] }>}
 */
export async function backUp({ url, to, keep = null, isVerified = true, tell = () => {}, signal }) {
  const began = new Date();
  const isFolder = existsSync(to) ? statSync(to).isDirectory() : to.endsWith('/') || extname(to) === '';
  const file = resolve(isFolder ? join(to, nameAt(began)) : to);
  if (keep !== null && !isFolder)
    throw new BackupError(`Old backups are removed from a folder; ${to} is a file. Name a folder.`);
  if (existsSync(file)) throw new BackupError(`${file} exists already. Name another file, or a folder.`);
  const part = `${file}.part`;
  try {
    if (!existsSync(dirname(file))) mkdirSync(dirname(file));
    // Everybody’s samples are in it.
    await (await open(part, 'w', 0o600)).close();
  } catch (error) {
    throw new BackupError(`${dirname(file)} cannot be written to: ${/** @type {Error} */ (error).message}`);
  }
  try {
    tell('Writing …');
    const counts = await connected(url, async (client) => {
      await client.query('begin isolation level repeatable read, read only');
      const { rows } = await client.query('select pg_export_snapshot() as snapshot');
      const now = await countRows(client);
      if (!('samples' in now)) throw new BackupError('There is no library in this database.');
      await runProgram(
        'pg_dump',
        url,
        ['--format=custom', '--compress=1', `--snapshot=${rows[0].snapshot}`, `--file=${part}`],
        signal,
      );
      return now;
    });
    await reachDisk(part);
    if (isVerified) {
      tell('Reading it back …');
      await inNewDatabase(url, SCRATCH, async (scratch) => {
        await readInto(scratch.url, part, signal);
        await connected(scratch.url, async (client) => {
          sameCounts(counts, await countRows(client));
          const wrong = await wrongOriginals(client, signal);
          if (wrong.length)
            throw new BackupError(
              `${wrong.length} of ${counts.originals} originals do not match their checksum, the first ${wrong[0]}: damaged in the library itself. No backup was kept; --no-verify writes one all the same.`,
            );
        });
      });
    }
    renameSync(part, file);
    await reachDisk(file);
    const bytes = statSync(file).size;
    // A library that is backed up before it is brought up to date has no place for it yet.
    if ('backups' in counts)
      await connected(url, (client) =>
        client.query(
          'insert into backups (file, byte_length, samples, began_at, verified_at) values ($1, $2, $3, $4, $5)',
          [file, bytes, counts.samples, began, isVerified ? new Date() : null],
        ),
      );
    const removed = keep === null ? [] : removeOld(dirname(file), Math.max(1, keep));
    return { file, bytes, samples: counts.samples, seconds: (Date.now() - began.getTime()) / 1000, removed };
  } finally {
    rmSync(part, { force: true });
  }
}

/** Removes backups of ours beyond the newest `keep`. @param {string} folder @param {number} keep @returns {string[]} */
function removeOld(folder, keep) {
  const ours = readdirSync(folder).filter((name) => NAME.test(name));
  const old = ours.sort().slice(0, -keep);
  for (const name of old) rmSync(join(folder, name));
  return old;
}

/** @param {Counts} wanted @param {Counts} found */
function sameCounts(wanted, found) {
  for (const [table, count] of Object.entries(wanted))
    if (found[table] !== count)
      throw new BackupError(
        `The backup has ${found[table] ?? 0} rows of ${table} for ${count}; it was not kept.`,
      );
}

/** The newest schema that this Grento knows. */
const knownSchema = () =>
  Math.max(
    ...readdirSync(join(projectFolder, 'src', 'store', 'migrations')).map((name) =>
      Number.parseInt(name, 10),
    ),
  );

/**
 * Makes a backup the library of a database, which nobody may be using: read beside it, every original compared with its checksum, brought
 * up to today's schema, and only then put in its place. A library that was there is refused, or put aside under another name (`replaces`).
 * Throws BackupError with a sentence; then all is as it was.
 * @param {{ url: string, file: string, replaces?: boolean, tell?: Tell, signal?: AbortSignal }} options
 * @returns {Promise<{ samples: number, originals: number, aside: string | null }>}
 */
export async function restore({ url, file, replaces = false, tell = () => {}, signal }) {
  if (!existsSync(file)) throw new BackupError(`There is no file ${file}.`);
  const name = databaseOf(url);
  const held = await connected(url, async (client) => {
    const { rows } = await client.query(
      `select (select count(*)::integer from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()) as others,
              to_regclass('samples') is not null as is_library`,
    );
    if (rows[0].others > 0)
      throw new BackupError('Somebody is connected to this library; stop Grento first.');
    return rows[0].is_library ? await countRows(client) : {};
  });
  // What somebody made or named, and would miss.
  const isHeld = ['samples', 'packs', 'blends', 'searches'].some((table) => held[table] > 0);
  if (isHeld && !replaces)
    throw new BackupError(
      `There is a library with ${held.samples} samples already; nothing was changed. With --replace it is put aside and stays as a database.`,
    );
  return inNewDatabase(url, ARRIVING, async (made) => {
    tell('Reading …');
    await readInto(made.url, file, signal).catch((error) => {
      throw error instanceof ProgramError && !signal?.aborted
        ? new BackupError(
            `${basename(file)} is no whole backup of Grento, nothing was changed. ${error.message}`,
          )
        : error;
    });
    const counts = await connected(made.url, async (client) => {
      const found = await countRows(client);
      if (!('samples' in found) || !('schema_version' in found))
        throw new BackupError(`${basename(file)} holds no library of Grento; nothing was changed.`);
      const { rows } = await client.query('select max(version)::integer as schema from schema_version');
      if (rows[0].schema > knownSchema())
        throw new BackupError(
          `${basename(file)} was written by a newer Grento (schema ${rows[0].schema}; this one knows ${knownSchema()}); nothing was changed.`,
        );
      tell('Comparing originals with their checksums …');
      const wrong = await wrongOriginals(client, signal);
      if (wrong.length)
        throw new BackupError(
          `${wrong.length} of ${found.originals} originals do not match their checksum, the first ${wrong[0]}; nothing was changed.`,
        );
      return found;
    });
    await migrate(made.url);
    const aside = isHeld ? `grento_before_${nameAt(new Date()).replace(/\D/g, '')}` : null;
    await connected(inDatabase(url, 'template1'), async (client) => {
      // Both or neither.
      await client.query('begin');
      await client.query(`alter database ${quoted(name)} rename to ${quoted(aside ?? `${made.name}_empty`)}`);
      await client.query(`alter database ${quoted(made.name)} rename to ${quoted(name)}`);
      await client.query('commit');
      made.keep();
      if (!aside) await client.query(`drop database if exists ${quoted(`${made.name}_empty`)}`);
    });
    return { samples: counts.samples, originals: counts.originals, aside };
  });
}
