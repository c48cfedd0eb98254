import { z } from 'zod';
import { knownFiles, type AnnouncedFile } from '@/contract/arrivals';
import { bulkSteps, bulkUndone, figuresProofResult, type Target } from '@/contract/orders';
import { intakeCounts, listedTarget, samplePage } from '@/contract/shelfQuery';
import { call, json } from './request';

export const fetchIntake = (params: URLSearchParams, signal?: AbortSignal) =>
  call(samplePage, `/api/samples?${params}`, { signal });

export const fetchIntakeCounts = (params: URLSearchParams, signal?: AbortSignal) =>
  call(intakeCounts, `/api/samples/counts?${params}`, { signal });

/** All samples that a query finds, each with the revision that it has. */
export const fetchTargets = (params: URLSearchParams): Promise<Target[]> =>
  call(z.array(listedTarget), `/api/samples/targets?${params}`);

/** What is here of files that are about to be sent. */
export const askKnown = (files: readonly AnnouncedFile[]) =>
  call(knownFiles, '/api/intake/known', json('POST', files));

export const fetchBulkSteps = (signal?: AbortSignal) => call(bulkSteps, '/api/bulk', { signal });

export const undoBulk = (stepId: number, evenForeign: boolean) =>
  call(bulkUndone, `/api/bulk/${stepId}/undo${evenForeign ? '?even-foreign' : ''}`, { method: 'POST' });

export const proveByFigures = (sampleIds: readonly string[]) =>
  call(figuresProofResult, '/api/proofs', json('POST', { sampleIds }));
