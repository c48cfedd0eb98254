'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { hangingWords, NOTHING_HANGS } from '@/core/library/hanging';
import { BULK_AT_ONCE, type BulkAction, type BulkResult, type Target } from '@/core/library/orders';
import { doInBulk, fetchBulkSteps, undoBulk } from '../api/intake';
import { RefusedError } from '../api/request';

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
  const own = useRef(ownRevisions());
  /** One thing after the other. */
  const chain = useRef<Promise<unknown>>(Promise.resolve());

  const undo = useCallback(
    async (stepId?: number) => {
      await chain.current;
      await takeBack(stepId ?? null, false, (made) => {
        own.current.keep(made);
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
      const hanging = { ...NOTHING_HANGS };
      let words = '';
      const refused: BulkResult['refused'] = [];
      try {
        for (let at = 0; at < targets.length && !stopped.current; at += BULK_AT_ONCE) {
          if (targets.length > BULK_AT_ONCE) setRun({ words, done: at, of: targets.length });
          const portion = targets.slice(at, at + BULK_AT_ONCE).map(own.current.based);
          const result: BulkResult = await doInBulk(order, portion, stepId);
          ({ stepId, words } = result);
          done += result.done;
          hanging.made += result.hanging.made;
          hanging.blends = Math.max(hanging.blends, result.hanging.blends);
          hanging.packs = Math.max(hanging.packs, result.hanging.packs);
          refused.push(...result.refused);
          own.current.keep(result.made);
          own.current.forget(result.refused);
        }
      } catch (error) {
        toast.error((error as Error).message);
      } finally {
        setRun(null);
        for (const list of ['intake', 'shelf', 'entry', 'steps'])
          void queries.invalidateQueries({ queryKey: [list] });
      }
      if (stepId === null) return;
      const step = stepId;
      if (done > 0)
        toast(`${done} ${done === 1 ? 'sample' : 'samples'}: ${words}.${hangingWords(hanging, done)}`, {
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
  done: (made: readonly Target[]) => Promise<void>,
): Promise<void> {
  let step = stepId;
  try {
    step ??= (await fetchBulkSteps()).undo?.stepId ?? null;
    if (step === null) return void toast('There is nothing to take back here.');
    const { words, undone, made, refused } = await undoBulk(step, evenForeign);
    const stay = refused.length ? `; ${refused.length} were changed since and stay` : '';
    toast(`Taken back: ${words}, ${undone} ${undone === 1 ? 'sample' : 'samples'}${stay}.`);
    await done(made);
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

/**
 * Revisions that were made here: what the page has not drawn yet, or was chosen before, is taken for what was made of
 * it, as long as nobody else has changed it.
 */
function ownRevisions() {
  const latest = new Map<string, { seen: Set<number | null>; now: number | null }>();
  return {
    based: (target: Target): Target => {
      const { sampleId, base } = target;
      const own = latest.get(sampleId);
      if (own?.seen.has(base)) return { sampleId, base: own.now };
      latest.set(sampleId, { seen: new Set([base]), now: base });
      return target;
    },
    keep: (made: readonly Target[]) => {
      for (const { sampleId, base } of made) {
        const own = latest.get(sampleId);
        latest.set(sampleId, { seen: new Set([...(own?.seen ?? []), base]), now: base });
      }
    },
    forget: (refused: readonly { sampleId: string }[]) => {
      for (const { sampleId } of refused) latest.delete(sampleId);
    },
  };
}
