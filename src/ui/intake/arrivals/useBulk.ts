'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { BULK_AT_ONCE, type BulkAction, type BulkResult, type Target } from '@/core/library/orders';
import { doInBulk, fetchBulkSteps, undoBulk } from '../../api/intake';
import { RefusedError } from '../../api/request';

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
  /** What was made here of revisions that may still be drawn: the next thing is done to what was made. */
  const made = useRef(new Map<string, { from: number | null; to: number | null }>());
  /** One thing after the other. */
  const chain = useRef<Promise<unknown>>(Promise.resolve());

  const undo = useCallback(
    async (stepId?: number) => {
      await chain.current;
      await takeBack(stepId ?? null, false, () => {
        made.current.clear();
        return queries.invalidateQueries();
      });
    },
    [queries],
  );

  const performNow = useCallback(
    async (order: BulkAction, targets: readonly Target[]): Promise<void> => {
      stopped.current = false;
      let stepId: number | null = null;
      let done = 0;
      let words = '';
      const refused: BulkResult['refused'] = [];
      try {
        for (let at = 0; at < targets.length && !stopped.current; at += BULK_AT_ONCE) {
          if (targets.length > BULK_AT_ONCE) setRun({ words, done: at, of: targets.length });
          const portion = targets.slice(at, at + BULK_AT_ONCE).map((target) => based(target, made.current));
          const result: BulkResult = await doInBulk(order, portion, stepId);
          ({ stepId, words } = result);
          done += result.done;
          refused.push(...result.refused);
          for (const { sampleId, base } of result.made) {
            const before = portion.find((target) => target.sampleId === sampleId);
            made.current.set(sampleId, { from: before?.base ?? null, to: base });
          }
          for (const { sampleId } of result.refused) made.current.delete(sampleId);
        }
      } catch (error) {
        toast.error((error as Error).message);
      } finally {
        setRun(null);
        for (const list of ['intake', 'entry', 'steps']) void queries.invalidateQueries({ queryKey: [list] });
      }
      if (stepId === null) return;
      const step = stepId;
      if (done > 0)
        toast(`${done} ${done === 1 ? 'sample' : 'samples'}: ${words}.`, {
          action:
            order.do === 'measure' ? undefined : { label: 'Take it back', onClick: () => void undo(step) },
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

  const perform = useCallback(
    (order: BulkAction, targets: readonly Target[]): Promise<void> => {
      if (targets.length === 0) return Promise.resolve();
      const result = chain.current.then(() => performNow(order, targets));
      chain.current = result;
      return result;
    },
    [performNow],
  );

  const stop = useCallback(() => {
    stopped.current = true;
  }, []);
  return useMemo(() => ({ run, perform, undo, stop }), [run, perform, undo, stop]);
}

/** Takes a step back (null: the newest); somebody else's only when that is said to be meant. */
async function takeBack(
  stepId: number | null,
  evenForeign: boolean,
  done: () => Promise<void>,
): Promise<void> {
  let step = stepId;
  try {
    step ??= (await fetchBulkSteps()).undo?.stepId ?? null;
    if (step === null) return void toast('There is nothing to take back here.');
    const { words, undone, refused } = await undoBulk(step, evenForeign);
    const stay = refused.length ? `; ${refused.length} were changed since and stay` : '';
    toast(`Taken back: ${words}, ${undone} ${undone === 1 ? 'sample' : 'samples'}${stay}.`);
    await done();
  } catch (error) {
    const foreign = error instanceof RefusedError && error.code === 'foreign' ? step : null;
    toast.error((error as Error).message, {
      action:
        foreign === null
          ? undefined
          : { label: 'Take it back all the same', onClick: () => void takeBack(foreign, true, done) },
    });
  }
}

/** A target as it is after what was done to it here, where the page may not have drawn that yet. */
function based(
  target: Target,
  made: ReadonlyMap<string, { from: number | null; to: number | null }>,
): Target {
  const own = made.get(target.sampleId);
  return own && own.from === target.base ? { ...target, base: own.to } : target;
}
