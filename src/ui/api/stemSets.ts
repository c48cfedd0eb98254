import { z } from 'zod';
import { stemSet, type StemSetChange } from '@/contract/stemSets';
import { call, json, nothing } from './request';

export const fetchStemSets = (signal?: AbortSignal) => call(z.array(stemSet), '/api/stems', { signal });

/** The set of a sample, or null. */
export const fetchSetOf = async (sampleId: string, signal?: AbortSignal) =>
  (await call(z.array(stemSet), `/api/stems?sample=${sampleId}`, { signal }))[0] ?? null;

export const joinStems = (sampleIds: readonly string[], name: string) =>
  call(z.object({ setId: z.string() }), '/api/stems', json('POST', { sampleIds, name }));

export const changeStemSet = (setId: string, change: StemSetChange) =>
  call(nothing, `/api/stems/${setId}`, json('POST', change));
