'use client';
import { counted } from '@/words/plural';
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
  type StepScreen,
  type Target,
} from '@/contract/orders';
import { fetchBulkSteps, moveStep } from '../api/intake';
import { RefusedError } from '../api/request';
import { isPassing, restAfter } from '../outbox/passing';
import { DroppedError } from '../outbox/sendQueue';
import { sendInBulk } from './sendInBulk';

/** So often undoing is tried again while the server is busy or away. */
const MOST_TRIES = 20;

export interface BulkRun {
  words: string;
  done: number;
  of: number;
}

/** Does things to many samples, in portions that show how far it is and can be stopped, and takes them back. */
export function useBulk(screen: StepScreen) {
  const queries = useQueryClient();
  const [run, setRun] = useState<BulkRun | null>(null);
  const stopped = useRef(false);
  const own = useRef(ownRevisions());
  /** One thing after the other. */
  const chain = useRef<Promise<unknown>>(Promise.resolve());

  const move = useCallback(
    async (way: Way, stepId?: number) => {
      await chain.current;
      await moveLast({ way, screen, stepId: stepId ?? null }, false, (made) => {
        own.current.keep(made);
        return queries.invalidateQueries();
      });
    },
    [queries, screen],
  );
  const undo = useCallback((stepId?: number) => move('undo', stepId), [move]);
  const redo = useCallback((stepId?: number) => move('redo', stepId), [move]);

  const performNow = useCallback(
    async (order: BulkAction, targets: readonly Target[]): Promise<void> => {
      stopped.current = false;
      const { sent, drop } = sendInBulk(order, targets.map(own.current.based), screen);
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
        toast(`${counted(done, 'sample')}: ${words}.${hangingWords(hanging, done)}`, {
          action: order.do === 'measure' ? undefined : { label: 'Undo', onClick: () => void undo(stepId) },
        });
      if (refused.length > 0)
        toast.error(
          `${refused.length} not: “${refused[0].name}”: ${refused[0].why}` +
            (refused.length > 1 ? ` (and ${refused.length - 1} more)` : ''),
        );
      if (done === 0 && refused.length === 0) toast('Nothing changed.');
    },
    [queries, undo, screen],
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
  return useMemo(
    () => ({ screen, run, perform, undo, redo, stop }),
    [screen, run, perform, undo, redo, stop],
  );
}

type Way = 'undo' | 'redo';

/** Takes a step back (or does it again) to its end, however many requests that takes. */
async function moveWhole(stepId: number, way: Way, evenForeign: boolean): Promise<BulkUndone> {
  const all: BulkUndone = { words: '', undone: 0, left: 1, made: [], refused: [] };
  for (let tries = 0; all.left > 0;)
    try {
      const some = await moveStep(stepId, way, evenForeign);
      all.words = some.words;
      all.left = some.left;
      all.undone += some.undone;
      all.made.push(...some.made);
      all.refused.push(...some.refused);
      tries = 0;
    } catch (error) {
      // What was undone stays so: it goes on with the rest.
      if (!(error instanceof RefusedError) || !isPassing(error.status) || tries > MOST_TRIES) throw error;
      await new Promise((resolve) => setTimeout(resolve, restAfter(tries++)));
    }
  return all;
}

const SCREEN_WORDS: Readonly<Record<StepScreen, string>> = {
  intake: 'in the Intake',
  shelf: 'on the Shelf',
  bench: 'on the Bench',
  blend: 'in the Blend',
};

interface Step {
  way: Way;
  screen: StepScreen;
  /** null: the newest of the screen. */
  stepId: number | null;
}

/** Takes a step back or does it again; somebody else's only when that is said to be meant. */
async function moveLast(
  { way, screen, stepId }: Step,
  evenForeign: boolean,
  done: (made: readonly Target[]) => Promise<void>,
): Promise<void> {
  let step = stepId;
  try {
    step ??= (await fetchBulkSteps(screen))[way]?.stepId ?? null;
    if (step === null)
      return void toast(
        `There is nothing to ${way} ${SCREEN_WORDS[screen]}: each screen has its own history.`,
      );
    const { words, undone, made, refused } = await moveWhole(step, way, evenForeign);
    const stay = refused.length ? `; ${refused.length} have changed since and stay` : '';
    const moved = step;
    toast(`${way === 'undo' ? 'Undone' : 'Redone'}: ${words}, ${counted(undone, 'sample')}${stay}.`, {
      action:
        way === 'undo'
          ? {
              label: 'Redo',
              onClick: () => void moveLast({ way: 'redo', screen, stepId: moved }, evenForeign, done),
            }
          : undefined,
    });
    await done(made);
  } catch (error) {
    const foreign = error instanceof RefusedError && error.code === 'foreign' ? step : null;
    toast.error((error as Error).message, {
      action:
        foreign === null
          ? undefined
          : {
              label: way === 'undo' ? 'Undo anyway' : 'Redo anyway',
              onClick: () => void moveLast({ way, screen, stepId: foreign }, true, done),
            },
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
