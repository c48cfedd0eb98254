'use client';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { ShelfQuery } from '@/core/library/shelfQuery';
import { api } from '../api/client';

const PAGE = 200;
/** The Shelf's question without the page. */
export type ShelfView = Omit<ShelfQuery, 'offset' | 'limit'>;

export const WHOLE_SHELF: ShelfView = {
  text: '',
  tempoFrom: null,
  tempoTo: null,
  alsoHalfDouble: false,
  keyTonic: null,
  keyMode: null,
  kind: null,
  tags: [],
  sort: 'saved',
  direction: 'down',
};

export function useShelfRows(view: ShelfView) {
  const query = useInfiniteQuery({
    queryKey: ['shelf', view],
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) => api.shelf(paramsOf(view, pageParam), signal),
    getNextPageParam: (_last, pages) => {
      const have = pages.reduce((sum, { rows }) => sum + rows.length, 0);
      return have < pages[pages.length - 1].total ? have : undefined;
    },
    placeholderData: keepPreviousData,
  });
  const rows = useMemo(() => query.data?.pages.flatMap((page) => page.rows) ?? [], [query.data]);
  const first = query.data?.pages[0];
  return { ...query, rows, total: first?.total ?? 0, facets: first?.facets ?? [], kinds: first?.kinds ?? [] };
}

function paramsOf({ tags, ...view }: ShelfView, offset: number): URLSearchParams {
  const params = new URLSearchParams({ offset: String(offset), limit: String(PAGE) });
  for (const [name, value] of Object.entries(view))
    if (value !== null && value !== '') params.set(name, String(value));
  for (const tag of tags) params.append('tags', tag);
  return params;
}
