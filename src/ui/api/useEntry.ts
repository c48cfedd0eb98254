'use client';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect } from 'react';
import { unpackTraces } from '@/core/traces/traces';
import { fetchEntry, fetchTraces } from './samples';

export const entryQuery = (sampleId: string) =>
  queryOptions({
    queryKey: ['entry', sampleId],
    queryFn: ({ signal }) => fetchEntry(sampleId, signal),
  });

/** Null for a sample that is not measured yet. */
export const tracesQuery = (sampleId: string) =>
  queryOptions({
    queryKey: ['traces', sampleId],
    queryFn: async ({ signal }) => {
      const bytes = await fetchTraces(sampleId, signal);
      return bytes.length ? unpackTraces(bytes) : null;
    },
    staleTime: Infinity,
  });

/** Everything that is kept of a sample. */
export function useEntry(sampleId: string) {
  return useQuery(entryQuery(sampleId));
}

/**
 * What is drawn of a sample. Asked for beside the entry, without waiting for it, and again once the sample is
 * measured.
 */
export function useTraces(sampleId: string, measured: boolean) {
  const query = useQuery(tracesQuery(sampleId));
  const { data, refetch } = query;
  useEffect(() => {
    if (measured && data === null) void refetch();
  }, [measured, data, refetch]);
  return query;
}

/** Goes to the Bench; what is drawn there is asked for at once, while the page is still on its way. */
export function useOpenOnBench(): (sampleId: string) => void {
  const router = useRouter();
  const queries = useQueryClient();
  return useCallback(
    (sampleId) => {
      void queries.prefetchQuery(entryQuery(sampleId));
      void queries.prefetchQuery(tracesQuery(sampleId));
      router.push(`/bench/${sampleId}`);
    },
    [router, queries],
  );
}
