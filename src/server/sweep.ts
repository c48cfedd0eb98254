import { alone } from '@/store/database';
import { sweepOriginals } from '@/store/heldBytes';
import { forgetOldTasks } from '@/store/longTasks';
import { clearInterruptedArrivals } from '@/store/originalBytes';
import { forgetOldNotes } from '@/store/packNotes';
import { clearBinnedWritings } from '@/store/packWritings';
import { forgetSentChanges } from '@/store/sentChanges';
import { emptyBinByAge } from './bin';
import { log } from './log';
import { clearTemporary } from './temporary';

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
