import { binRequest, type BinDeleted, type BinState } from '@/contract/bin';
import { blendStore } from '@/store/blends';
import { binnedSamples, deleteBinned, readBin } from '@/store/bin';
import { database, transaction } from '@/store/database';
import { announceSamples } from '@/store/notifications';
import { packStore } from '@/store/packs';
import { countChildren } from '@/store/recipes';
import { readSettings } from '@/store/settings';
import { lockSamples } from '@/store/snapshots';
import { log } from './log';

/** So many samples are deleted in one transaction. */
const AT_ONCE = 100;
/** One request deletes no longer than this, ms; the next goes on. */
const LONGEST = 15_000;
/** What hangs on more than these is not counted. */
const MOST_ASKED = 5000;

/** What lies in the bin, what hangs on it, and when it is emptied. */
export async function binNow(): Promise<BinState> {
  const ids = await binnedSamples({ ids: null, olderThanDays: null }, MOST_ASKED);
  const [bin, { binDays }, made, blends, packs] = await Promise.all([
    readBin(),
    readSettings(database()),
    countChildren(ids),
    blendStore.countHolding(ids),
    packStore.countHolding(ids),
  ]);
  return { ...bin, binDays, hanging: { made, blends, packs } };
}

/**
 * Deletes samples that lie in the bin for good, portion by portion; sent again it goes on where it stopped. What was taken out of the
 * bin meanwhile stays.
 */
export async function emptyBin(input: unknown): Promise<BinDeleted> {
  const { sampleIds } = binRequest.parse(input);
  return deleteFromBin({ ids: sampleIds, olderThanDays: null });
}

/** Deletes what has been in the bin for longer than the library's setting says. */
export async function emptyBinByAge(): Promise<BinDeleted> {
  const { binDays } = await readSettings(database());
  if (binDays === null) return { samples: 0, bytes: 0, left: 0 };
  return deleteFromBin({ ids: null, olderThanDays: binDays });
}

async function deleteFromBin(which: Parameters<typeof binnedSamples>[0]): Promise<BinDeleted> {
  const all: BinDeleted = { samples: 0, bytes: 0, left: 0 };
  for (const end = Date.now() + LONGEST; ;) {
    const ids = await binnedSamples(which, AT_ONCE);
    if (ids.length === 0) break;
    if (Date.now() > end) {
      all.left = (await binnedSamples(which, 1_000_000)).length;
      break;
    }
    const { samples, bytes } = await transaction(async (client) => {
      await lockSamples(client, ids);
      const deleted = await deleteBinned(client, ids);
      await announceSamples(client, deleted.samples, 'changed');
      return deleted;
    });
    all.samples += samples.length;
    all.bytes += bytes;
  }
  if (all.samples > 0) log.info({ event: 'bin emptied', ...all });
  return all;
}
