'use client';
import { keepPreviousData, useQueries, useQuery, type QueryKey } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useCursor, type Cursor, type Row } from './useCursor';

/** Rows in an order, of which some may not be loaded. */
export interface Listing<R> {
  total: number;
  rowAt: (index: number) => R | null;
  /** Loaded rows, in order. */
  rows: readonly R[];
  cursor: Cursor<R>;
  isPending: boolean;
  error: Error | null;
  /** Tells which rows are in sight. */
  onRange?: (from: number, to: number) => void;
}

interface Page<R> {
  /** How many there are in all; told with the first page. */
  total: number | null;
  rows: R[];
}

interface Paged<R, P extends Page<R>> {
  /** The query; each page adds its number. */
  queryKey: QueryKey;
  /** `of`: how many rows there are, where that is known. */
  fetchPage: (page: { offset: number; limit: number; of: number | null }, signal: AbortSignal) => Promise<P>;
}

const PAGE_ROWS = 100;

/**
 * A list of any length: only the pages in sight (which `onRange` is told) are loaded, and loaded again when something
 * changes.
 */
export function usePagedList<R extends Row, P extends Page<R>>({ queryKey, fetchPage }: Paged<R, P>) {
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
  const rowAt = (index: number): R | null =>
    loaded.get(Math.floor(index / PAGE_ROWS))?.rows[index % PAGE_ROWS] ?? null;
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
  const cursor = useCursor<R>({ total, rowAt, indexOf, asked: JSON.stringify(queryKey) });
  return {
    total,
    rowAt,
    rows: [...loaded].sort(([a], [b]) => a - b).flatMap(([, page]) => page.rows),
    cursor,
    isPending: first.isPending,
    error: first.error,
    onRange,
    /** The first page, with what the server says beside the rows. */
    first: first.data,
  } satisfies Listing<R> & { first: P | undefined };
}

/** A list of which every row is here. `asked`: what it is a list of. */
export function useWholeList<R extends Row>(
  rows: readonly R[],
  asked: string,
  { isPending = false, error = null }: { isPending?: boolean; error?: Error | null } = {},
): Listing<R> {
  const listed = {
    total: rows.length,
    rowAt: (index: number) => rows[index] ?? null,
    indexOf: (sampleId: string) => rows.findIndex((row) => row.sampleId === sampleId),
  };
  return { ...listed, rows, cursor: useCursor<R>({ ...listed, asked }), isPending, error };
}
