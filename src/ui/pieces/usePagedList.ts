'use client';
import { keepPreviousData, useQueries, useQuery, type QueryKey } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useHand } from './useHand';

interface Page<Row> {
  /** How many there are in all; told with the first page. */
  total: number | null;
  rows: Row[];
}

interface Paged<Row, P extends Page<Row>> {
  /** What is asked; each page adds its number. */
  queryKey: QueryKey;
  /** `of`: how many rows there are, where that is known. */
  fetchPage: (page: { offset: number; limit: number; of: number | null }, signal: AbortSignal) => Promise<P>;
}

const PAGE_ROWS = 100;

/**
 * A list of any length: only the pages in sight (which `VirtualRows` tells) are fetched, and fetched anew when
 * something changes. A hand lies on one of the samples (`useHand`), which keys walk along.
 */
export function usePagedList<Row extends { sampleId: string }, P extends Page<Row>>({
  queryKey,
  fetchPage,
}: Paged<Row, P>) {
  const [range, setRange] = useState({ first: 0, last: 0 });
  const ask = (page: number, of: number | null) => ({
    queryKey: [...queryKey, page],
    queryFn: ({ signal }: { signal: AbortSignal }): Promise<P> =>
      fetchPage({ offset: page * PAGE_ROWS, limit: PAGE_ROWS, of }, signal),
    placeholderData: keepPreviousData,
  });
  const first = useQuery(ask(0, null));
  const total = first.data?.total ?? 0;
  const pages: number[] = [];
  for (let page = Math.max(1, range.first); page <= range.last; page++) pages.push(page);
  const others = useQueries({ queries: pages.map((page) => ask(page, total)) });
  const loaded = new Map<number, P>();
  if (first.data) loaded.set(0, first.data);
  pages.forEach((page, i) => {
    const { data, isPlaceholderData } = others[i];
    if (data && !isPlaceholderData) loaded.set(page, data);
  });
  const rowAt = (index: number): Row | null =>
    loaded.get(Math.floor(index / PAGE_ROWS))?.rows[index % PAGE_ROWS] ?? null;
  /** Rows from … to are in sight. */
  const onRange = useCallback((from: number, to: number) => {
    const next = { first: Math.floor(from / PAGE_ROWS), last: Math.floor(to / PAGE_ROWS) };
    setRange((now) => (now.first === next.first && now.last === next.last ? now : next));
  }, []);

  const indexOf = (sampleId: string): number => {
    for (const [page, { rows }] of loaded) {
      const at = rows.findIndex((row) => row.sampleId === sampleId);
      if (at >= 0) return page * PAGE_ROWS + at;
    }
    return -1;
  };
  const hand = useHand<Row>({ total, rowAt, indexOf, asked: JSON.stringify(queryKey) });
  return {
    total,
    /** The first page, with what the server says beside the rows. */
    first: first.data,
    isPending: first.isPending,
    error: first.error,
    /** Rows that are here, in order: those in sight and the first page. */
    rows: [...loaded].sort(([a], [b]) => a - b).flatMap(([, page]) => page.rows),
    rowAt,
    onRange,
    ...hand,
  };
}
