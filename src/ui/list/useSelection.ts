'use client';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { Target } from '@/contract/orders';
import { useStable } from '../kit/useStable';
import type { Row } from './useCursor';
import type { Listing } from './usePagedList';

type Selectable = Row & { sequence?: number | null };

export const targetOf = ({ sampleId, sequence = null }: Selectable): Target => ({ sampleId, base: sequence });

/** How a row is pressed: with Shift up to it, with Ctrl besides the others. */
export interface Press {
  range: boolean;
  toggle: boolean;
}

export interface Selection<R> {
  size: number;
  has: (sampleId: string) => boolean;
  /** Selected samples; the one under the cursor where none are. */
  targets: readonly Target[];
  toggle: (row: R) => void;
  add: (rows: readonly R[]) => void;
  clear: () => void;
  all: () => Promise<void>;
  press: (index: number, how: Press) => void;
}

/**
 * The samples of a list that are selected together, each as it was when it was selected. `fetchAll`: all that the list
 * finds (of very many the first), in its order: rows between two may not be loaded.
 */
export function useSelection<R extends Selectable>(
  { rowAt, total, cursor }: Listing<R>,
  fetchAll: () => Promise<readonly Target[]>,
): Selection<R> {
  const [bases, setBases] = useState<ReadonlyMap<string, number | null>>(new Map());
  const toggle = useCallback((row: R) => {
    const { sampleId, base } = targetOf(row);
    setBases((before) => {
      const next = new Map(before);
      if (!next.delete(sampleId)) next.set(sampleId, base);
      return next;
    });
  }, []);
  const addTargets = useCallback(
    (more: readonly Target[]) =>
      setBases(
        (before) => new Map([...before, ...more.map(({ sampleId, base }) => [sampleId, base] as const)]),
      ),
    [],
  );
  const add = useCallback((rows: readonly R[]) => addTargets(rows.map(targetOf)), [addTargets]);
  const clear = useCallback(() => setBases((before) => (before.size ? new Map() : before)), []);
  const press = useStable((index: number, { range, toggle: isBeside }: Press) => {
    const row = rowAt(index);
    if (isBeside && row) {
      // The row under the cursor belongs to the selection.
      if (bases.size === 0 && cursor.row && cursor.row.sampleId !== row.sampleId) add([cursor.row]);
      toggle(row);
    } else if (range && cursor.at >= 0) {
      const [from, to] = [Math.min(cursor.at, index), Math.max(cursor.at, index)];
      void fetchAll().then((found) => addTargets(found.slice(from, to + 1)));
    } else clear();
    cursor.moveTo(index);
  });
  const all = useStable(async () => {
    clear();
    const found = await fetchAll();
    addTargets(found);
    if (found.length < total)
      toast(
        `The first ${found.length.toLocaleString('en')} of ${total.toLocaleString('en')} are selected; filter the list to reach the others.`,
      );
  });
  const current = cursor.row;
  const targets = useMemo(
    (): readonly Target[] =>
      bases.size > 0
        ? [...bases].map(([sampleId, base]) => ({ sampleId, base }))
        : current
          ? [targetOf(current)]
          : [],
    [bases, current],
  );
  return useMemo(
    () => ({
      ...{ size: bases.size, has: (sampleId: string) => bases.has(sampleId), targets },
      ...{ toggle, add, clear, all, press },
    }),
    [bases, targets, toggle, add, clear, all, press],
  );
}
