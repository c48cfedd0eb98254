import { namesAnswer, type NamesRequest } from '@/contract/names';
import type { ChoiceRequest } from '@/contract/choices';
import { sampleEntry, type SampleEntry } from '@/contract/entry';
import { call, fetchBytes, json, nothing } from './request';

const at = (sampleId: string, rest = '') => `/api/samples/${sampleId}${rest}`;

export const fetchEntry = (sampleId: string, signal?: AbortSignal): Promise<SampleEntry> =>
  call(sampleEntry, at(sampleId), { signal });

export const fetchTraces = (sampleId: string, signal?: AbortSignal) =>
  fetchBytes(at(sampleId, '/traces'), signal);

/** Where changes of a sample are asked for (`sampleRequest`); the answer is its entry. */
export const changesPath = (sampleId: string) => at(sampleId, '/changes');

export const measureAgain = (sampleId: string, range: { low: number; high: number } | null) =>
  call(nothing, at(sampleId, '/measure'), json('POST', { range }));

export const stopMeasuring = (sampleId: string) =>
  call(nothing, at(sampleId, '/measure'), { method: 'DELETE' });

export const originalUrl = (sampleId: string) => at(sampleId, '/original?download');
export const taggedUrl = (sampleId: string) => at(sampleId, '/tagged');

/** Keeps how a sample is brought to a target from now on. */
export const chooseAtTarget = (sampleId: string, choice: ChoiceRequest) =>
  call(nothing, at(sampleId, '/choice'), json('PUT', choice));

/** What samples would be called, or what is rendered of them. */
export const fetchNames = (request: NamesRequest, signal?: AbortSignal) =>
  call(namesAnswer, '/api/names', { ...json('POST', request), signal });
