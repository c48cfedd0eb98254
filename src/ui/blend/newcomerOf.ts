import type { QueryClient } from '@tanstack/react-query';
import type { Newcomer } from '@/library/blend/newcomer';
import { laneFactsOf } from '@/library/blend/parts';
import { entryQuery } from '../api/useEntry';

/** A sample as it can be put into a blend. Throws an error with a sentence where it is not measured yet. */
export async function newcomerOf(queries: QueryClient, sampleId: string): Promise<Newcomer> {
  const entry = await queries.fetchQuery({ ...entryQuery(sampleId), staleTime: 10_000 });
  const facts = laneFactsOf(entry);
  const { name } = entry.summary;
  if (!facts) throw new Error(`“${name}” is not measured yet; it can be put in once it is.`);
  return { sampleId, name, facts };
}
