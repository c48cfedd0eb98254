import { z } from 'zod';
import { blendRow, keptBlend, type BlendChange } from '@/core/blend/keeping';
import { type MixRequest } from '@/core/library/mix';
import { renderAnswer } from '@/core/recipes/renders';
import { call, json, nothing } from './request';

const at = (blendId: string, rest = '') => `/api/blends/${blendId}${rest}`;

export const fetchBlends = (signal?: AbortSignal) => call(z.array(blendRow), '/api/blends', { signal });

export const fetchBlend = (blendId: string, signal?: AbortSignal) => call(keptBlend, at(blendId), { signal });

export const makeBlend = (of: { name?: string; copyOf?: string }) =>
  call(keptBlend, '/api/blends', json('POST', of));

export const changeBlend = (blendId: string, change: BlendChange) =>
  call(keptBlend, at(blendId), json('POST', change));

export const throwBlendAway = (blendId: string) => call(nothing, at(blendId), { method: 'DELETE' });
export const takeBlendBack = (blendId: string) => call(nothing, at(blendId), { method: 'PUT' });

export const askForMixes = (blendId: string, request: Partial<MixRequest>) =>
  call(renderAnswer, at(blendId, '/mixes'), json('POST', request));

export const tempoMapUrl = (blendId: string) => at(blendId, '/tempo-map');
