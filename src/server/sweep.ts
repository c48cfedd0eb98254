import { readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { alone } from '@/store/database';
import { sweepOriginals } from '@/store/heldBytes';
import { forgetOldTasks } from '@/store/longTasks';
import { clearInterruptedArrivals } from '@/store/originalBytes';
import { forgetOldNotes } from '@/store/packNotes';
import { clearBinnedWritings } from '@/store/packWritings';
import { forgetSentChanges } from '@/store/sentChanges';
import { emptyBinByAge } from './bin';
import { log } from './log';

/** Temporary folders of ours that are older were left by a process that died, ms. */
const OLDEST = 24 * 3600_000;

/**
 * Removes what nobody needs any more: arrivals that broke off, what has been in the bin for long enough, tasks and
 * changes that ended long ago, and bytes that nobody holds. Of several processes one does it.
 */
export async function sweep(): Promise<void> {
  await alone('sweep', async () => {
    const arrivals = await clearInterruptedArrivals();
    await clearBinnedWritings();
    await forgetSentChanges();
    await forgetOldNotes();
    const tasks = await forgetOldTasks();
    const deleted = await emptyBinByAge();
    const { originals, bytes } = await sweepOriginals();
    const folders = await clearTemporary();
    if (arrivals + tasks + deleted.samples + originals + folders > 0)
      log.info({ event: 'swept', arrivals, tasks, samples: deleted.samples, originals, bytes, folders });
  });
}

async function clearTemporary(): Promise<number> {
  let count = 0;
  for (const name of await readdir(tmpdir()).catch(() => []))
    if (/^grento-[A-Za-z0-9]{6}$/.test(name)) {
      const path = join(tmpdir(), name);
      const info = await stat(path).catch(() => null);
      if (!info || Date.now() - info.mtimeMs < OLDEST) continue;
      await rm(path, { recursive: true, force: true }).catch(() => {});
      count++;
    }
  return count;
}
