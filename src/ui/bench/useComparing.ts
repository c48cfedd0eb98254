'use client';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { Grid } from '@/core/rhythm/grid';
import type { Bench } from './useBench';

/** A grid that the settled one is compared with. */
interface Compared {
  label: string;
  grid: Grid;
}

export interface Comparing {
  compared: Compared | null;
  /** It is drawn and heard now, instead of the settled one. */
  isHeard: boolean;
  /** Begins with another grid, or ends. */
  compare: (other: Compared | null) => void;
  /** Switches between the two. */
  toggle: () => void;
}

/** Comparing the settled grid with that of another reading. */
export function useComparing({ grid, preview }: Bench): Comparing {
  const [compared, setCompared] = useState<Compared | null>(null);
  // Whatever is settled or dragged meanwhile is drawn and heard instead of the other grid.
  const isHeard = compared !== null && grid === compared.grid;
  const compare = useCallback(
    (other: Compared | null) => {
      setCompared(other);
      preview(other);
    },
    [preview],
  );
  const toggle = useCallback(() => {
    if (compared) preview(isHeard ? null : compared);
    else toast('Press “compare” beside a reading first; B then switches between the two grids.');
  }, [compared, isHeard, preview]);
  return useMemo(() => ({ compared, isHeard, compare, toggle }), [compared, isHeard, compare, toggle]);
}
