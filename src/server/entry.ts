import { jamsOf } from '@/library/packs/annotations';
import type { SampleEntry } from '@/contract/entry';
import { database } from '@/store/database';
import { readEntryOf } from '@/store/entries';
import { notFound } from './userError';

/** Everything that the Bench shows of a sample. Throws UserError for an unknown one. */
export async function readEntry(sampleId: string): Promise<SampleEntry> {
  const entry = await readEntryOf(database(), sampleId);
  if (!entry) throw notFound();
  return entry;
}

/** What is settled of a sample as annotations by the standard. Throws UserError for an unknown one. */
export const annotationsOf = async (sampleId: string): Promise<object> => jamsOf(await readEntry(sampleId));
