import { z } from 'zod';
import type { Target } from '@/contract/orders';
import { shelfOverview } from '@/contract/overview';
import { listedTarget, samplePage, shelfFacets } from '@/contract/shelfQuery';
import { call } from './request';

export const fetchShelf = (params: URLSearchParams, signal?: AbortSignal) =>
  call(samplePage, `/api/shelf?${params}`, { signal });

/** How many of what is found have each tag and kind. */
export const fetchShelfFacets = (params: URLSearchParams, signal?: AbortSignal) =>
  call(shelfFacets, `/api/shelf/facets?${params}`, { signal });

/** What is found, counted by tempo, key, kind and part; and the library over time. */
export const fetchOverview = (params: URLSearchParams, signal?: AbortSignal) =>
  call(shelfOverview, `/api/shelf/overview?${params}`, { signal });

/** All samples that a query of the Shelf finds, each with the revision that it has. */
export const fetchShelfTargets = (params: URLSearchParams): Promise<Target[]> =>
  call(z.array(listedTarget), `/api/shelf/targets?${params}`);
