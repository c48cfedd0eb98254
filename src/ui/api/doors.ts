import { doors, newAccess } from '@/contract/doors';
import { call, json, nothing } from './request';

export const fetchDoors = (signal?: AbortSignal) => call(doors, '/api/doors', { signal });

/** Makes a token; its secret is told this once. */
export const giveAccess = (name: string) => call(newAccess, '/api/doors', json('POST', { name }));

export const takeAccess = (tokenId: string) => call(nothing, `/api/doors/${tokenId}`, { method: 'DELETE' });
