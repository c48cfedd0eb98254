import { z } from 'zod';
import { knownFiles, type AnnouncedFile } from '@/contract/arrivals';
import { errorsLeft } from '@/contract/errorsLeft';
import { engineState } from '@/contract/measuring';
import { bulkSteps, bulkUndone, figuresProofResult, type StepScreen, type Target } from '@/contract/orders';
import { intakeCounts, listedTarget, samplePage } from '@/contract/shelfQuery';
import { call, json, nothing } from './request';

export const fetchIntake = (params: URLSearchParams, signal?: AbortSignal) =>
  call(samplePage, `/api/samples?${params}`, { signal });

export const fetchIntakeCounts = (params: URLSearchParams, signal?: AbortSignal) =>
  call(intakeCounts, `/api/samples/counts?${params}`, { signal });

export const fetchErrorsLeft = (of: 'all' | 'saved', signal?: AbortSignal) =>
  call(errorsLeft, `/api/samples/errors?of=${of}`, { signal });

export const fetchEngine = (signal?: AbortSignal) => call(engineState, '/api/samples/engine', { signal });
const compared = z.object({ samples: z.number() });
export const compareEngines = () => call(compared, '/api/samples/engine', { method: 'POST' });
export const stopComparing = () => call(compared, '/api/samples/engine', { method: 'DELETE' });

/** All samples that a query finds, each with the revision that it has. */
export const fetchTargets = (params: URLSearchParams): Promise<Target[]> =>
  call(z.array(listedTarget), `/api/samples/targets?${params}`);

/** What is here of files that are about to be sent. */
export const askKnown = (files: readonly AnnouncedFile[]) =>
  call(knownFiles, '/api/intake/known', json('POST', files));

export const fetchBulkSteps = (screen: StepScreen, signal?: AbortSignal) =>
  call(bulkSteps, `/api/bulk?screen=${screen}`, { signal });

/** Takes a step back, or does it again. */
export const moveStep = (stepId: number, way: 'undo' | 'redo', evenForeign: boolean) =>
  call(bulkUndone, `/api/bulk/${stepId}/${way}${evenForeign ? '?even-foreign' : ''}`, { method: 'POST' });

export const proveByFigures = (sampleIds: readonly string[]) =>
  call(figuresProofResult, '/api/proofs', json('POST', { sampleIds }));

/** Makes the demo library in an empty one. */
export const loadDemoLibrary = () => call(nothing, '/api/demo', json('POST', {}));
