'use client';
import { useQuery } from '@tanstack/react-query';
import { unpackTraces } from '@/core/traces/traces';
import { api } from '../api/client';

/** Everything that is kept of a sample. */
export function useEntry(sampleId: string) {
  return useQuery({
    queryKey: ['entry', sampleId],
    queryFn: ({ signal }) => api.entry(sampleId, signal),
  });
}

/** What is drawn of a sample; fetched once it is measured. */
export function useTraces(sampleId: string, measured: boolean) {
  return useQuery({
    queryKey: ['traces', sampleId],
    queryFn: async ({ signal }) => unpackTraces(await api.traces(sampleId, signal)),
    enabled: measured,
    staleTime: Infinity,
  });
}
