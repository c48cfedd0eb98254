import { z } from 'zod';
import { alikePair, type likenessChange } from '@/contract/likenesses';
import { call, json, nothing } from './request';

export const fetchAlike = (signal?: AbortSignal) => call(z.array(alikePair), '/api/alike', { signal });

/** Merges a pair, keeps it apart, or opens the decision again. */
export const decideAlike = (change: z.infer<typeof likenessChange>) =>
  call(nothing, '/api/alike', json('POST', change));
