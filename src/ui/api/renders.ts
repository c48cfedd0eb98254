import { family, renderAnswer, type RenderRequest } from '@/core/recipes/renders';
import { call, json } from './request';

/** Has derived samples made; they come as they are ready. */
export const askRenders = (request: RenderRequest) =>
  call(renderAnswer, '/api/renders', json('POST', request));

export const fetchFamily = (sampleId: string, signal?: AbortSignal) =>
  call(family, `/api/samples/${sampleId}/family`, { signal });
