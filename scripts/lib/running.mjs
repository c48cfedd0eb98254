// @ts-check
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** @typedef {{ pid: number, address: string | null }} Running */

/**
 * The Grento that runs on a data folder already, or null. A note that was left behind by one that is gone counts for
 * nothing: its number belongs to nobody, or to another program.
 * @param {string} folder @returns {Running | null}
 */
export function alreadyRunning(folder) {
  const file = join(folder, 'running.json');
  if (!existsSync(file)) return null;
  try {
    const running = /** @type {Running} */ (JSON.parse(readFileSync(file, 'utf8')));
    const command = readFileSync(`/proc/${running.pid}/cmdline`, 'utf8');
    return running.pid !== process.pid && command.includes('start.mjs') ? running : null;
  } catch {
    return null;
  }
}

/** Notes that this process runs on a data folder, and where it is reached. @param {string} folder @param {string | null} address */
export function noteRunning(folder, address) {
  writeFileSync(join(folder, 'running.json'), JSON.stringify({ pid: process.pid, address }), { mode: 0o600 });
}

/** @param {string} folder */
export function forgetRunning(folder) {
  rmSync(join(folder, 'running.json'), { force: true });
}
