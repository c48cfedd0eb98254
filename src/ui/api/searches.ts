import { z } from 'zod';
import { keptSearch, type NewSearch } from '@/contract/searches';
import { call, json, nothing } from './request';

const kept = z.array(keptSearch);

export const fetchSearches = (signal?: AbortSignal) => call(kept, '/api/searches', { signal });

export const keepSearch = (search: NewSearch) => call(kept, '/api/searches', json('POST', search));

export const forgetSearch = (searchId: string) =>
  call(nothing, `/api/searches/${searchId}`, { method: 'DELETE' });
