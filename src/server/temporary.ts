import { mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** What the names of our temporary folders begin with; nothing else among temporary files is called so. */
const PREFIX = 'grento-temporary-';
/** Folders that are older were left by a process that died, ms. */
const OLDEST = 24 * 3600_000;

/** Makes a temporary folder; whoever asked for it removes it. */
export const temporaryFolder = (): Promise<string> => mkdtemp(join(tmpdir(), PREFIX));

/** Removes temporary folders that nobody will come back to. Returns their number. */
export async function clearTemporary(): Promise<number> {
  let count = 0;
  for (const name of await readdir(tmpdir())) {
    if (!name.startsWith(PREFIX)) continue;
    const path = join(tmpdir(), name);
    const info = await stat(path).catch(() => null);
    if (!info || Date.now() - info.mtimeMs < OLDEST) continue;
    await rm(path, { recursive: true, force: true });
    count++;
  }
  return count;
}
