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
