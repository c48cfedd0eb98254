'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useRef, useState } from 'react';

interface Listed {
  /** Rows that are here; more may follow. */
  count: number;
  rowHeight: number;
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  fetchNextPage: () => Promise<unknown>;
}

/** How many rows before the end the next page is asked for. */
const AHEAD = 40;

/**
 * A long list of equal rows: only those in sight are rendered, the next page is fetched as the end comes
 * near, and one row is selected, which keys walk along (−1: none yet).
 */
export function useListedRows({ count, rowHeight, hasNextPage, isFetchingNextPage, fetchNextPage }: Listed) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  const lastShown = shown[shown.length - 1]?.index ?? 0;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && lastShown >= count - AHEAD) void fetchNextPage();
  }, [lastShown, count, hasNextPage, isFetchingNextPage, fetchNextPage]);

  const [wanted, setSelected] = useState(-1);
  const selected = Math.min(wanted, count - 1);
  const walk = useCallback(
    (by: number) =>
      setSelected((now) => Math.max(0, Math.min(count - 1, (now < 0 ? (by > 0 ? -1 : 0) : now) + by))),
    [count],
  );
  useEffect(() => {
    if (selected >= 0) virtual.scrollToIndex(selected);
  }, [selected, virtual]);
  return { scroller, shown, totalHeight: virtual.getTotalSize(), selected, setSelected, walk };
}
