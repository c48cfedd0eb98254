import { access, newAccess } from '@/contract/access';
import { call, json, nothing } from './request';

export const fetchAccess = (signal?: AbortSignal) => call(access, '/api/access', { signal });

/** Makes a token; its secret is told this once. */
export const giveAccess = (name: string) => call(newAccess, '/api/access', json('POST', { name }));

export const takeAccess = (tokenId: string) => call(nothing, `/api/access/${tokenId}`, { method: 'DELETE' });
