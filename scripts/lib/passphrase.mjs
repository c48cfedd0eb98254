// @ts-check
import { randomBytes, scryptSync } from 'node:crypto';
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { Writable } from 'node:stream';
import { giveUp, say } from './say.mjs';

const SHORTEST = 8;
/** scrypt: 32 MB and about a tenth of a second for each try. */
const COST = { N: 2 ** 15, r: 8, p: 1 };

/**
 * The file with the hash of the passphrase that is asked for, or null where none is. It is written when a new one is
 * given, stays for later starts, and goes when it is to be asked for no more.
 * @param {string} folder @param {{ ask: boolean, drop: boolean }} wanted @returns {Promise<string | null>}
 */
export async function passphraseFile(folder, { ask, drop }) {
  const file = join(folder, 'passphrase');
  if (drop) rmSync(file, { force: true });
  const given = process.env.GRENTO_PASSPHRASE || (ask ? await typed() : null);
  // Nothing that is started from here needs to know it.
  delete process.env.GRENTO_PASSPHRASE;
  if (given !== null) {
    if (given.length < SHORTEST) giveUp(`A passphrase has at least ${SHORTEST} letters.`);
    const salt = randomBytes(16);
    const hash = scryptSync(given.normalize('NFKC'), salt, 32, { ...COST, maxmem: 128 * 1024 * 1024 });
    const line = ['scrypt', COST.N, COST.r, COST.p, salt.toString('hex'), hash.toString('hex')].join(' ');
    rmSync(file, { force: true });
    writeFileSync(file, `${line}\n`, { mode: 0o600 });
  }
  return existsSync(file) ? file : null;
}

/** Asks on the terminal, without showing what is typed. @returns {Promise<string>} */
function typed() {
  if (!process.stdin.isTTY)
    giveUp('--passphrase asks on a terminal; without one, set GRENTO_PASSPHRASE instead.');
  process.stdout.write('Passphrase: ');
  const silent = new Writable({ write: (_part, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: silent, terminal: true });
  return new Promise((resolve) =>
    lines.question('', (line) => {
      lines.close();
      say('');
      resolve(line);
    }),
  );
}
