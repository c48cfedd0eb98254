// @ts-check
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { BackupError } from './backups.mjs';
import { ProgramError } from './databases.mjs';
import { servedAt, startPostgres } from './postgres.mjs';
import { dataFolder } from './project.mjs';
import { giveUp } from './say.mjs';

/**
 * Runs a command on the library's database: that of DATABASE_URL, or the private one, which is started for as long as it takes where Grento
 * does not run. Ctrl-C cancels it. What the command, PostgreSQL or the system refuses ends it with a sentence.
 * @param {(url: string, signal: AbortSignal) => Promise<void>} command
 * @param {{ makes?: boolean }} [how] whether a private database is made where there is none yet
 */
export async function onOwnDatabase(command, { makes = false } = {}) {
  const aborting = new AbortController();
  for (const name of /** @type {const} */ (['SIGINT', 'SIGTERM'])) process.on(name, () => aborting.abort());
  const served = process.env.DATABASE_URL ?? servedAt(dataFolder);
  if (!served && !makes && !existsSync(join(dataFolder, 'cluster')))
    giveUp(`There is no library in ${dataFolder} yet.`);
  const started = served ? null : await startPostgres(dataFolder);
  try {
    await command(String(served ?? started?.url), aborting.signal);
  } catch (error) {
    process.stderr.write(`${aborting.signal.aborted ? 'Cancelled.' : sentenceOf(error)}\n`);
    process.exitCode = 1;
  } finally {
    started?.stop();
  }
}

/** Of what can be helped; anything else is a fault of ours and keeps its trace. @param {unknown} error */
function sentenceOf(error) {
  if (error instanceof BackupError || error instanceof ProgramError) return error.message;
  // The database and the system give their refusals a code.
  if (error instanceof Error && 'code' in error)
    return `This could not be done: ${error.message || error.code}`;
  throw error;
}
