'use client';
import { keepPreviousData, useQueries, useQuery, type QueryKey } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';

interface Page<Row> {
  total: number;
  rows: Row[];
}

interface Paged<Row, P extends Page<Row>> {
  /** What is asked; each page adds its number. */
  queryKey: QueryKey;
  fetchPage: (offset: number, limit: number, signal: AbortSignal) => Promise<P>;
  rowHeight: number;
}

export const PAGE_ROWS = 100;

/**
 * A list of any length of equal rows: only those in sight are rendered, and only their pages are fetched (and
 * fetched anew when something changes). One row has the cursor, which keys walk along (−1: none yet).
 */
export function usePagedList<Row, P extends Page<Row>>({ queryKey, fetchPage, rowHeight }: Paged<Row, P>) {
  const scroller = useRef<HTMLDivElement>(null);
  const ask = (page: number) => ({
    queryKey: [...queryKey, page],
    queryFn: ({ signal }: { signal: AbortSignal }) => fetchPage(page * PAGE_ROWS, PAGE_ROWS, signal),
    placeholderData: keepPreviousData,
  });
  const first = useQuery(ask(0));
  const total = first.data?.total ?? 0;
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
  });
  const shown = virtual.getVirtualItems();
  const [from, to] = [shown[0]?.index ?? 0, shown[shown.length - 1]?.index ?? 0];
  const pages = useMemo(() => {
    const list: number[] = [];
    for (let page = Math.max(1, Math.floor(from / PAGE_ROWS)); page <= Math.floor(to / PAGE_ROWS); page++)
      list.push(page);
    return list;
  }, [from, to]);
  const others = useQueries({ queries: pages.map(ask) });
  const loaded = new Map<number, P>();
  if (first.data) loaded.set(0, first.data);
  pages.forEach((page, i) => {
    const { data, isPlaceholderData } = others[i];
    if (data && !isPlaceholderData) loaded.set(page, data);
  });
  const rowAt = (index: number): Row | null =>
    loaded.get(Math.floor(index / PAGE_ROWS))?.rows[index % PAGE_ROWS] ?? null;

  const [wanted, setSelected] = useState(-1);
  const selected = Math.min(wanted, total - 1);
  const walk = useCallback(
    (by: number) =>
      setSelected((now) => Math.max(0, Math.min(total - 1, (now < 0 ? (by > 0 ? -1 : 0) : now) + by))),
    [total],
  );
  useEffect(() => {
    if (selected >= 0) virtual.scrollToIndex(selected);
  }, [selected, virtual]);
  return {
    scroller,
    shown,
    totalHeight: virtual.getTotalSize(),
    total,
    /** The first page, with what the server says beside the rows. */
    first: first.data,
    isPending: first.isPending,
    error: first.error,
    /** Rows that are here, in order: those in sight and the first page. */
    rows: [...loaded].sort(([a], [b]) => a - b).flatMap(([, page]) => page.rows),
    rowAt,
    selected,
    setSelected,
    walk,
  };
}
