'use client';
import { useCallback, useState } from 'react';

/** Which samples are chosen together, beside the one under the cursor. */
export function useChosen() {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const toggle = useCallback(
    (id: string) =>
      setIds((before) => {
        const next = new Set(before);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  const add = useCallback((more: readonly string[]) => setIds((before) => new Set([...before, ...more])), []);
  const clear = useCallback(() => setIds((before) => (before.size ? new Set() : before)), []);
  return { ids, toggle, add, clear };
}
