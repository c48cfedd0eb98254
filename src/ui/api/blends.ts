import { z } from 'zod';
import { blendRow, keptBlend, type BlendChange, type KeptBlend } from '@/core/blend/keeping';
import { type MixRequest } from '@/core/library/mix';
import { renderAnswer } from '@/core/recipes/renders';
import { call, json, nothing } from './request';

const at = (blendId: string, rest = '') => `/api/blends/${blendId}${rest}`;

export const fetchBlends = (signal?: AbortSignal) => call(z.array(blendRow), '/api/blends', { signal });

export const fetchBlend = (blendId: string, signal?: AbortSignal) => call(keptBlend, at(blendId), { signal });

export const makeBlend = (of: { name?: string; copyOf?: string }) =>
  call(keptBlend, '/api/blends', json('POST', of));

/** The most that a browser sends to its end when its page is left. */
const KEPT_ALIVE = 32_768;

export function changeBlend(blendId: string, change: BlendChange): Promise<KeptBlend> {
  const asked = json('POST', change);
  return call(keptBlend, at(blendId), { ...asked, keepalive: String(asked.body).length < KEPT_ALIVE });
}

export const throwBlendAway = (blendId: string) => call(nothing, at(blendId), { method: 'DELETE' });
export const takeBlendBack = (blendId: string) => call(nothing, at(blendId), { method: 'PUT' });

export const askForMixes = (blendId: string, request: Partial<MixRequest>) =>
  call(renderAnswer, at(blendId, '/mixes'), json('POST', request));

export const tempoMapUrl = (blendId: string) => at(blendId, '/tempo-map');
