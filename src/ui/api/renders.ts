import {
  family,
  renderAnswer,
  targetRenderAnswer,
  type RenderRequest,
  type TargetRenderRequest,
} from '@/contract/renders';
import { call, json } from './request';

/** Has derived samples made; they come as they are ready. */
export const askRenders = (request: RenderRequest) =>
  call(renderAnswer, '/api/renders', json('POST', request));

/** Has samples made at a target. */
export const askAtTarget = (request: TargetRenderRequest) =>
  call(targetRenderAnswer, '/api/renders/target', json('POST', request));

export const fetchFamily = (sampleId: string, signal?: AbortSignal) =>
  call(family, `/api/samples/${sampleId}/family`, { signal });
