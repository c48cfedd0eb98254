import { sampleEntry, type SampleEntry } from '@/core/library/entry';
import type { SampleRequest } from '@/core/library/orders';
import { call, fetchBytes, json, nothing } from './request';

const at = (sampleId: string, rest = '') => `/api/samples/${sampleId}${rest}`;

export const fetchEntry = (sampleId: string, signal?: AbortSignal): Promise<SampleEntry> =>
  call(sampleEntry, at(sampleId), { signal });

export const fetchTraces = (sampleId: string, signal?: AbortSignal) =>
  fetchBytes(at(sampleId, '/traces'), signal);

/**
 * Asks for a change of a sample: `base` is the revision that was seen, a change to another one is refused (null:
 * whatever it is now). Answers with what became of it.
 */
export const changeSample = (sampleId: string, base: number | null, order: SampleRequest['order']) =>
  call(sampleEntry, at(sampleId, '/changes'), json('POST', { base, order }));

export const measureAgain = (sampleId: string, range: { low: number; high: number } | null) =>
  call(nothing, at(sampleId, '/measure'), json('POST', { range }));

export const stopMeasuring = (sampleId: string) =>
  call(nothing, at(sampleId, '/measure'), { method: 'DELETE' });

export const originalUrl = (sampleId: string) => at(sampleId, '/original?download');
export const taggedUrl = (sampleId: string) => at(sampleId, '/tagged');
