import { samplePage, shelfFacets } from '@/core/library/shelfQuery';
import { call } from './request';

export const fetchShelf = (params: URLSearchParams, signal?: AbortSignal) =>
  call(samplePage, `/api/shelf?${params}`, { signal });

/** How many of what is found have each tag and kind. */
export const fetchShelfFacets = (params: URLSearchParams, signal?: AbortSignal) =>
  call(shelfFacets, `/api/shelf/facets?${params}`, { signal });
