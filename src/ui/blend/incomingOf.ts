import type { QueryClient } from '@tanstack/react-query';
import type { Incoming } from '@/library/blend/incoming';
import { laneFactsOf } from '@/library/blend/parts';
import { entryQuery } from '../api/useEntry';

/** A sample as it can be put into a blend. Throws an error with a sentence where it is not measured yet. */
export async function incomingOf(queries: QueryClient, sampleId: string): Promise<Incoming> {
  const entry = await queries.fetchQuery({ ...entryQuery(sampleId), staleTime: 10_000 });
  const facts = laneFactsOf(entry);
  const { name } = entry.summary;
  if (!facts) throw new Error(`“${name}” is not measured yet. Add it once it is measured.`);
  return { sampleId, name, facts };
}
