import type { SampleEntry } from '@/core/library/entry';
import { database, transaction } from '@/store/database';
import { cancelMeasurement } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { readSummary, setRemoved, setStanding } from '@/store/samples';
import { readEntry } from './entry';
import { log } from './log';
import { renewNeed, renewStanding } from './renew';
import { notFound, UserError } from './userError';

/** Saves a measured sample to the Shelf, or takes it off again. */
export async function setSaved(sampleId: string, saved: boolean): Promise<SampleEntry> {
  await transaction(async (client) => {
    const summary = await readSummary(client, sampleId);
    if (!summary) throw notFound();
    if (summary.standing === 'arrived') {
      throw new UserError(`“${summary.name}” is not measured yet and cannot be saved.`, 422);
    }
    if (saved) {
      await setStanding(client, sampleId, 'saved');
    } else {
      await setStanding(client, sampleId, 'measured');
      await renewStanding(client, sampleId);
    }
    await renewNeed(client, sampleId);
    await announceSample(client, { sampleId, what: 'changed' });
  });
  log.info({ event: saved ? 'saved' : 'taken off the shelf', sample: sampleId });
  return readEntry(sampleId);
}

/** Puts a sample into the bin (its measuring stops) or restores it. */
export async function setInBin(sampleId: string, inBin: boolean): Promise<void> {
  if (inBin) await cancelMeasurement(sampleId);
  if (!(await setRemoved(database(), sampleId, inBin))) throw notFound();
  await announceSample(database(), { sampleId, what: inBin ? 'removed' : 'arrived' });
  log.info({ event: inBin ? 'removed' : 'restored', sample: sampleId });
}
