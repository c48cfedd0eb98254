import { blendRow, type BlendRow } from '@/core/blend/keeping';
import type { BlendOrder } from '@/core/blend/orders';
import { blend, type Blend } from '@/core/library/blend';
import { type MixRequest } from '@/core/library/mix';
import { renderAnswer } from '@/core/recipes/renders';
import { call, json } from './request';
import { steppedCalls } from './stepped';

export const BLENDS = steppedCalls<Blend, BlendOrder, BlendRow>('blend', blend, blendRow);

const at = (blendId: string, rest = '') => `/api/blends/${blendId}${rest}`;

export const askForMixes = (blendId: string, request: Partial<MixRequest>) =>
  call(renderAnswer, at(blendId, '/mixes'), json('POST', request));

export const tempoMapUrl = (blendId: string) => at(blendId, '/tempo-map');
