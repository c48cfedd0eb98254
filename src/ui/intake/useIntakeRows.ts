'use client';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { IntakeQuery } from '@/core/library/shelfQuery';
import { api } from '../api/client';

const PAGE = 200;
export type IntakeView = Pick<IntakeQuery, 'show' | 'text' | 'sort' | 'direction'>;

/** The rows of the Intake under a view, page by page as they are scrolled to. */
export function useIntakeRows(view: IntakeView) {
  const query = useInfiniteQuery({
    queryKey: ['intake', view],
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      api.intake(new URLSearchParams({ ...view, offset: String(pageParam), limit: String(PAGE) }), signal),
    getNextPageParam: (_last, pages) => {
      const have = pages.reduce((sum, { rows }) => sum + rows.length, 0);
      return have < pages[pages.length - 1].total ? have : undefined;
    },
    placeholderData: keepPreviousData,
  });
  const rows = useMemo(() => query.data?.pages.flatMap((page) => page.rows) ?? [], [query.data]);
  const last = query.data?.pages[query.data.pages.length - 1];
  return { ...query, rows, total: last?.total ?? 0, counts: last?.counts ?? {} };
}
