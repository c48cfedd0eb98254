import { librarySettings, type LibrarySettings } from '@/contract/settings';
import { call, json } from './request';

export const fetchSettings = (signal?: AbortSignal) => call(librarySettings, '/api/settings', { signal });

export const writeSettings = (settings: Partial<LibrarySettings>) =>
  call(librarySettings, '/api/settings', json('PUT', settings));
