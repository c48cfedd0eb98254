'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { noteLine } from './line';
import type { LiveEvent } from '@/contract/events';
import type { SamplePage } from '@/contract/shelfQuery';

/** Lists are asked for again at most this often while many samples are measured, ms. */
const REFRESH_EVERY = 700;
/** What shows samples in the plural. */
const LISTS = [
  'intake',
  'shelf',
  'stems',
  'alike',
  'tasks',
  'steps',
  'family',
  'pack contents',
  'errors left',
];

/** Calls `hear` for everything that happens in the library; one line serves all tabs of the browser. */
function listen(hear: (event: LiveEvent) => void): () => void {
  const script = '/built/events.worker.js';
  if (typeof SharedWorker === 'undefined') {
    const worker = new Worker(script, { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<LiveEvent>) => hear(data);
    return () => worker.terminate();
  }
  const { port } = new SharedWorker(script, { type: 'module', name: 'grento-events' });
  port.onmessage = ({ data }: MessageEvent<LiveEvent>) => hear(data);
  const leave = () => port.postMessage('bye');
  window.addEventListener('pagehide', leave);
  return () => {
    window.removeEventListener('pagehide', leave);
    leave();
    port.close();
  };
}

/** Keeps what the page shows up to date with what happens to samples anywhere. */
export function useLiveChanges() {
  const queries = useQueryClient();
  useEffect(() => {
    let due: ReturnType<typeof setTimeout> | null = null;
    const refreshLists = () => {
      due ??= setTimeout(() => {
        due = null;
        for (const list of LISTS) void queries.invalidateQueries({ queryKey: [list] });
      }, REFRESH_EVERY);
    };
    const stop = listen((event) => {
      switch (event.kind) {
        case 'line':
          return noteLine(event.isThere);
        case 'missed':
          return void queries.invalidateQueries();
        case 'tasks':
          return void queries.invalidateQueries({ queryKey: ['tasks'] });
        case 'progress':
          return void queries.setQueriesData<SamplePage>({ queryKey: ['intake'] }, (page) =>
            page?.rows ? withProgress(page, event) : page,
          );
        case 'stepped':
          void queries.invalidateQueries({ queryKey: [`${event.what}s`] });
          void queries.invalidateQueries({ queryKey: ['family'] });
          void queries.invalidateQueries({ queryKey: ['pack contents', event.id] });
          return void queries.invalidateQueries({ queryKey: [event.what, event.id] });
        case 'samples':
          refreshLists();
          for (const sampleId of event.sampleIds)
            void queries.invalidateQueries({ queryKey: ['entry', sampleId] });
      }
    });
    return () => {
      stop();
      if (due) clearTimeout(due);
    };
  }, [queries]);
}

function withProgress(
  page: SamplePage,
  { sampleId, stage, progress }: Extract<LiveEvent, { kind: 'progress' }>,
): SamplePage {
  if (!page.rows.some((row) => row.sampleId === sampleId)) return page;
  const measuring = { state: 'running' as const, stage, progress };
  return { ...page, rows: page.rows.map((row) => (row.sampleId === sampleId ? { ...row, measuring } : row)) };
}
