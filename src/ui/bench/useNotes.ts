'use client';
import { useQuery } from '@tanstack/react-query';
import { readMidi, type MidiNote } from '@/core/formats/midi';
import { fetchBytes } from '../api/request';
import { originalUrl } from '../api/samples';
import type { Bench } from './useBench';

/** The notes of the performance on the Bench; null for anything else, and until they are here. */
export function useNotes({ entry: { summary } }: Bench): readonly MidiNote[] | null {
  const { sampleId, format } = summary;
  const { data = null } = useQuery({
    queryKey: ['notes', sampleId],
    queryFn: async ({ signal }) => readMidi(await fetchBytes(originalUrl(sampleId), signal)).notes,
    enabled: format === 'midi',
    staleTime: Infinity,
  });
  return data;
}
