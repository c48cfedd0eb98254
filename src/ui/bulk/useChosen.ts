'use client';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { SampleSummary } from '@/contract/entry';
import type { Target } from '@/contract/orders';
import { useStable } from '../pieces/useStable';

export type Chosen = ReturnType<typeof useChosen>;

/** Which samples are chosen together, beside the one under the cursor, each as it was when it was chosen. */
function useChosen() {
  const [bases, setBases] = useState<ReadonlyMap<string, number | null>>(new Map());
  const toggle = useCallback(
    ({ sampleId, base }: Target) =>
      setBases((before) => {
        const next = new Map(before);
        if (!next.delete(sampleId)) next.set(sampleId, base);
        return next;
      }),
    [],
  );
  const add = useCallback(
    (more: readonly Target[]) =>
      setBases(
        (before) => new Map([...before, ...more.map(({ sampleId, base }) => [sampleId, base] as const)]),
      ),
    [],
  );
  const clear = useCallback(() => setBases((before) => (before.size ? new Map() : before)), []);
  const targets = useMemo(() => [...bases].map(([sampleId, base]): Target => ({ sampleId, base })), [bases]);
  return useMemo(
    () => ({
      size: bases.size,
      has: (sampleId: string) => bases.has(sampleId),
      targets,
      toggle,
      add,
      clear,
    }),
    [bases, targets, toggle, add, clear],
  );
}

export const targetOf = ({ sampleId, sequence }: SampleSummary): Target => ({ sampleId, base: sequence });

interface Listed {
  rowAt: (index: number) => SampleSummary | null;
  /** Where the hand lies, −1 for nowhere in the list, and on what. */
  selected: number;
  held: SampleSummary | null;
  setSelected: (index: number) => void;
  /** How many rows the list has. */
  total: number;
  /** All that the list finds (of very many the first), in its order: rows between two may not be here. */
  all: () => Promise<readonly Target[]>;
}

/** What pressing a row of a list does with the choice: with Ctrl it joins or leaves, with Shift all up to it join, else there is none. */
export function useChoosing({ rowAt, total, selected, held: current, setSelected, all }: Listed) {
  const chosen = useChosen();
  const select = useStable((index: number, { range, toggle }: { range: boolean; toggle: boolean }) => {
    const row = rowAt(index);
    if (toggle && row) {
      // The row that the cursor stood on belongs to the choice.
      if (chosen.size === 0 && current && current.sampleId !== row.sampleId) chosen.add([targetOf(current)]);
      chosen.toggle(targetOf(row));
    } else if (range && selected >= 0) {
      const [from, to] = [Math.min(selected, index), Math.max(selected, index)];
      void all().then((ids) => chosen.add(ids.slice(from, to + 1)));
    } else chosen.clear();
    setSelected(index);
  });
  const chooseAll = useStable(async () => {
    chosen.clear();
    const found = await all();
    chosen.add(found);
    if (found.length < total)
      toast(
        `The first ${found.length.toLocaleString('en')} of ${total.toLocaleString('en')} are chosen; narrow the list for the others.`,
      );
  });
  const targets = useMemo(
    () => (chosen.size > 0 ? chosen.targets : current ? [targetOf(current)] : []),
    [chosen, current],
  );
  return { chosen, current, targets, select, chooseAll };
}
