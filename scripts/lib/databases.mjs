// @ts-check
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { needPostgres } from './postgres.mjs';

/** One of PostgreSQL's programs could not go on, or was cancelled. */
export class ProgramError extends Error {}

/** The same server, another database. @param {string} url @param {string} database */
export function inDatabase(url, database) {
  const other = new URL(url);
  other.pathname = `/${database}`;
  return other.href;
}

export const databaseOf = (/** @type {string} */ url) => decodeURIComponent(new URL(url).pathname.slice(1));
export const quoted = (/** @type {string} */ name) => `"${name.replaceAll('"', '""')}"`;

/**
 * Runs `work` on a connection of its own, which is closed after it.
 * @template T @param {string} url @param {(client: import('pg').Client) => Promise<T>} work @returns {Promise<T>}
 */
export async function connected(url, work) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/**
 * Runs one of PostgreSQL's own programs; the password is not among its arguments, where others could read it. Throws ProgramError with the
 * last thing that it said.
 * @param {string} program @param {string} url @param {string[]} args @param {AbortSignal} [signal]
 */
export function runProgram(program, url, args, signal) {
  const { hostname, port, username, password } = new URL(url);
  return /** @type {Promise<void>} */ (
    new Promise((done, failed) => {
      const child = spawn(join(needPostgres(), program), args, {
        stdio: ['ignore', 'ignore', 'pipe'],
        signal,
        env: {
          ...process.env,
          LC_ALL: 'C.UTF-8',
          PGHOST: hostname,
          PGPORT: port || '5432',
          PGUSER: decodeURIComponent(username),
          PGPASSWORD: decodeURIComponent(password),
          PGDATABASE: databaseOf(url),
        },
      });
      let said = '';
      child.stderr.on('data', (data) => (said = `${said}${data}`.slice(-4000)));
      child.on('error', (error) => failed(signal?.aborted ? new ProgramError('Cancelled.') : error));
      child.on('close', (code) => {
        const last = said.trim().split('\n').at(-1) ?? '';
        if (code === 0) done();
        else failed(new ProgramError(`${program} could not go on: ${last || `it ended with ${code}`}`));
      });
    })
  );
}

/** No command takes so long, ms. */
const LEFT_AFTER = 24 * 3600_000;

/**
 * Makes a database whose name begins with `prefix`, hands it to `work`, and drops it again unless `work` says that it stays.
 * @template T @param {string} url @param {string} prefix
 * @param {(made: { url: string, name: string, keep: () => void }) => Promise<T>} work @returns {Promise<T>}
 */
export async function inNewDatabase(url, prefix, work) {
  const name = `${prefix}${Date.now()}_${randomBytes(4).toString('hex')}`;
  const server = inDatabase(url, 'template1');
  await connected(server, async (client) => {
    // Of commands that were killed: their names say when they were made, ms since 1970.
    const { rows } = await client.query(
      `select datname as name from pg_database d where datname ~ $1
          and not exists (select from pg_stat_activity a where a.datname = d.datname)`,
      [`^${prefix}[0-9]{13}_[0-9a-f]{8}$`],
    );
    for (const left of rows)
      if (Number(left.name.match(/\d{13}/)?.[0]) < Date.now() - LEFT_AFTER)
        await client.query(`drop database if exists ${quoted(left.name)}`);
    await client.query(`create database ${quoted(name)} template template0`);
  });
  let stays = false;
  try {
    return await work({ url: inDatabase(url, name), name, keep: () => (stays = true) });
  } finally {
    if (!stays)
      await connected(server, (client) =>
        client.query(`drop database if exists ${quoted(name)} with (force)`),
      ).catch(() => {});
  }
}
