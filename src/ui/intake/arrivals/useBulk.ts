'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import { toast } from 'sonner';
import { BULK_AT_ONCE, type BulkAction, type BulkResult } from '@/core/library/intake';
import { api } from '../../api/client';

export interface BulkRun {
  words: string;
  done: number;
  of: number;
}

/** Does things to many samples, in portions that show how far it is and can be stopped, and takes them back. */
export function useBulk() {
  const queries = useQueryClient();
  const [run, setRun] = useState<BulkRun | null>(null);
  const stopped = useRef(false);

  const undo = useCallback(
    async (stepId?: number) => {
      try {
        const step = stepId ?? (await api.bulkSteps()).undo?.stepId;
        if (!step) return void toast('There is nothing to take back here.');
        const { words, undone, changedSince } = await api.undoBulk(step);
        toast(
          `Taken back: ${words}, ${undone} ${undone === 1 ? 'sample' : 'samples'}` +
            (changedSince ? `; ${changedSince} were changed since and stay` : '') +
            '.',
        );
        await queries.invalidateQueries();
      } catch (error) {
        toast.error((error as Error).message);
      }
    },
    [queries],
  );

  const perform = useCallback(
    async (action: BulkAction, sampleIds: readonly string[]): Promise<void> => {
      if (sampleIds.length === 0) return;
      stopped.current = false;
      let stepId: number | null = null;
      let done = 0;
      let words = '';
      const refused: BulkResult['refused'] = [];
      try {
        for (let at = 0; at < sampleIds.length && !stopped.current; at += BULK_AT_ONCE) {
          if (sampleIds.length > BULK_AT_ONCE) setRun({ words, done: at, of: sampleIds.length });
          const result: BulkResult = await api.bulk(action, sampleIds.slice(at, at + BULK_AT_ONCE), stepId);
          ({ stepId, words } = result);
          done += result.done;
          refused.push(...result.refused);
        }
        await queries.invalidateQueries({ queryKey: ['intake'] });
        await queries.invalidateQueries({ queryKey: ['entry'] });
        await queries.invalidateQueries({ queryKey: ['steps'] });
      } catch (error) {
        toast.error((error as Error).message);
      } finally {
        setRun(null);
      }
      if (stepId === null) return;
      const step = stepId;
      if (done > 0)
        toast(`${done} ${done === 1 ? 'sample' : 'samples'}: ${words}.`, {
          action:
            action.do === 'measure' ? undefined : { label: 'Take it back', onClick: () => void undo(step) },
        });
      if (refused.length > 0)
        toast.error(
          `${refused.length} not: “${refused[0].name}”: ${refused[0].why}` +
            (refused.length > 1 ? ` (and ${refused.length - 1} more)` : ''),
        );
      if (done === 0 && refused.length === 0) toast('Nothing changed.');
    },
    [queries, undo],
  );

  return { run, perform, undo, stop: () => (stopped.current = true) };
}
