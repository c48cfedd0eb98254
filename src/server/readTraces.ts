import { database } from '@/store/database';
import { readSampleFile } from '@/store/samples';
import { readTraces } from '@/store/traces';
import { notFound } from './userError';

/**
 * What the Bench draws of a sample, packed by `core/traces`; nothing for one that was not measured yet. Throws
 * UserError for an unknown one.
 */
export async function tracesOfSample(sampleId: string): Promise<Uint8Array<ArrayBuffer>> {
  const bytes = await readTraces(database(), sampleId);
  if (!bytes && !(await readSampleFile(database(), sampleId))) throw notFound();
  return Uint8Array.from(bytes ?? []);
}
