import { storageState } from '@/contract/storage';
import { call } from './request';

export const fetchStorage = (signal?: AbortSignal) => call(storageState, '/api/storage', { signal });
