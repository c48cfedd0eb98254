'use client';
import { NOTHING_HANGS } from '@/contract/bin';
import { hangingWords } from '@/words/hanging';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import {
  BULK_AT_ONCE,
  type BulkAction,
  type BulkResult,
  type BulkUndone,
  type Target,
} from '@/contract/orders';
import { fetchBulkSteps, undoBulk } from '../api/intake';
import { RefusedError } from '../api/request';
import { isPassing, restAfter } from '../outbox/passing';
import { DroppedError } from '../outbox/sendQueue';
import { sendInBulk } from './sendInBulk';

/** So often taking back is tried again while the server is busy or away. */
const MOST_TRIES = 20;

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
      const { sent, drop } = sendInBulk(order, targets.map(own.current.based));
      let last: BulkResult | null = null;
      let done = 0;
      const hanging = { ...NOTHING_HANGS };
      const refused: BulkResult['refused'] = [];
      try {
        for (const [i, portion] of sent.entries()) {
          if (sent.length > 1)
            setRun({ words: last?.words ?? '', done: i * BULK_AT_ONCE, of: targets.length });
          const result = await portion;
          last = result;
          done += result.done;
          hanging.made += result.hanging.made;
          hanging.blends = Math.max(hanging.blends, result.hanging.blends);
          hanging.packs = Math.max(hanging.packs, result.hanging.packs);
          refused.push(...result.refused);
          own.current.keep(result.made);
          own.current.forget(result.refused);
          if (stopped.current) drop();
        }
      } catch (error) {
        // What follows what was refused would be refused as well.
        drop();
        if (!(error instanceof DroppedError)) toast.error((error as Error).message);
      } finally {
        setRun(null);
        for (const list of ['intake', 'shelf', 'entry', 'steps'])
          void queries.invalidateQueries({ queryKey: [list] });
      }
      if (last === null) return;
      const { stepId, words } = last;
      if (done > 0)
        toast(`${done} ${done === 1 ? 'sample' : 'samples'}: ${words}.${hangingWords(hanging, done)}`, {
          action:
            order.do === 'measure' ? undefined : { label: 'Take it back', onClick: () => void undo(stepId) },
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

/** Takes a step back to its end, however many requests that takes. */
async function undoWhole(stepId: number, evenForeign: boolean): Promise<BulkUndone> {
  const all: BulkUndone = { words: '', undone: 0, left: 1, made: [], refused: [] };
  for (let tries = 0; all.left > 0;)
    try {
      const some = await undoBulk(stepId, evenForeign);
      all.words = some.words;
      all.left = some.left;
      all.undone += some.undone;
      all.made.push(...some.made);
      all.refused.push(...some.refused);
      tries = 0;
    } catch (error) {
      // What was taken back stays so: it goes on with the rest.
      if (!(error instanceof RefusedError) || !isPassing(error.status) || tries > MOST_TRIES) throw error;
      await new Promise((resolve) => setTimeout(resolve, restAfter(tries++)));
    }
  return all;
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
    const { words, undone, made, refused } = await undoWhole(step, evenForeign);
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
