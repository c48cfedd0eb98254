'use client';
import { useCallback, useMemo, useState } from 'react';
import type { Target } from '@/core/library/orders';

/** Which samples are chosen together, beside the one under the cursor, each as it was when it was chosen. */
export function useChosen() {
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
