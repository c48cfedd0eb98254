import { blend, type Blend, type BlendOrder, blendRow, type BlendRow } from '@/contract/blend';
import { type MixRequest } from '@/contract/mix';
import { renderAnswer } from '@/contract/renders';
import { call, json } from './request';
import { documentCalls } from './documents';

export const BLENDS = documentCalls<Blend, BlendOrder, BlendRow>('blend', blend, blendRow);

const at = (blendId: string, rest = '') => `/api/blends/${blendId}${rest}`;

export const askForMixes = (blendId: string, request: Partial<MixRequest>) =>
  call(renderAnswer, at(blendId, '/mixes'), json('POST', request));

export const tempoMapUrl = (blendId: string) => at(blendId, '/tempo-map');
