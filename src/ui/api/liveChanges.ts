'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { IntakePage } from '@/core/library/shelfQuery';

interface Change {
  sampleId: string;
  what: 'arrived' | 'progress' | 'measured' | 'changed' | 'removed';
  stage?: string;
  progress?: number;
}

/** Lists are asked for anew at most this often while many samples are measured, ms. */
const REFRESH_EVERY = 700;

/** Keeps what the page shows up to date with what happens to samples anywhere. */
export function useLiveChanges() {
  const queries = useQueryClient();
  useEffect(() => {
    const events = new EventSource('/api/events');
    let due: ReturnType<typeof setTimeout> | null = null;
    const refreshLists = () => {
      due ??= setTimeout(() => {
        due = null;
        void queries.invalidateQueries({ queryKey: ['intake'] });
        void queries.invalidateQueries({ queryKey: ['shelf'] });
        void queries.invalidateQueries({ queryKey: ['queue'] });
        void queries.invalidateQueries({ queryKey: ['stems'] });
        void queries.invalidateQueries({ queryKey: ['alike'] });
      }, REFRESH_EVERY);
    };
    let opened = false;
    events.onopen = () => {
      // After a break anything may have happened.
      if (opened) void queries.invalidateQueries();
      opened = true;
    };
    events.onmessage = ({ data }) => {
      const change = JSON.parse(data) as Change | 'missed';
      if (change === 'missed') return void queries.invalidateQueries();
      if (change.what === 'progress') {
        queries.setQueriesData<IntakePage>({ queryKey: ['intake'] }, (page) =>
          page?.rows ? withProgress(page, change) : page,
        );
        return;
      }
      refreshLists();
      void queries.invalidateQueries({ queryKey: ['entry', change.sampleId] });
    };
    return () => {
      events.close();
      if (due) clearTimeout(due);
    };
  }, [queries]);
}

function withProgress(page: IntakePage, { sampleId, stage = '', progress = 0 }: Change): IntakePage {
  if (!page.rows.some((row) => row.sampleId === sampleId)) return page;
  const rows = page.rows.map((row) =>
    row.sampleId === sampleId ? { ...row, job: { state: 'running' as const, stage, progress } } : row,
  );
  return { ...page, rows };
}
