import { database } from '@/store/database';
import { readTraces } from '@/store/traces';
import { UserError } from './userError';

/** What the Bench draws of a sample, packed by `core/traces`. Throws UserError for one that was not measured. */
export async function tracesOfSample(sampleId: string): Promise<Uint8Array<ArrayBuffer>> {
  const bytes = await readTraces(database(), sampleId);
  if (!bytes) throw new UserError('Nothing was drawn of this sample yet; it waits to be measured.', 404);
  return Uint8Array.from(bytes);
}
