// @ts-check
import { mkdirSync, rmSync } from 'node:fs';
import { connected, inDatabase } from './databases.mjs';
import { migrate } from './migrate.mjs';
import { startPostgres } from './postgres.mjs';

/** A test's data need not outlive the machine: nothing waits for the disk. */
const UNSAFE = ['fsync=off', 'synchronous_commit=off', 'full_page_writes=off', 'max_connections=200'];
const TEMPLATE = 'grento_template';

/**
 * One server for all tests of a run, in a folder that is emptied first. The schema is made once; `copy` returns
 * the address of a database of its own with it.
 * @param {string} folder
 * @param {string[]} [settings] more settings of the server, as "name=value"
 */
export async function startTestCluster(folder, settings = []) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const server = await startPostgres(folder, [...UNSAFE, ...settings]);
  const urlOf = (/** @type {string} */ name) => inDatabase(server.url, name);
  const run = (/** @type {string} */ statement) => connected(server.url, (client) => client.query(statement));
  await run(`create database ${TEMPLATE}`);
  await migrate(urlOf(TEMPLATE));
  // Copies are made one after the other: a template takes one reader at a time.
  let last = Promise.resolve();
  return {
    stop: server.stop,
    /** @param {string} name of letters, digits and _ @returns {Promise<string>} */
    copy(name) {
      last = last.then(() => run(`create database ${name} template ${TEMPLATE}`)).then(() => {});
      return last.then(() => urlOf(name));
    },
  };
}
