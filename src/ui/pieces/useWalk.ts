'use client';
import { useCallback, useState } from 'react';

/** A selected place in a list of `count` rows that keys walk along; −1 when there is none. */
export function useWalk(count: number) {
  const [wanted, setSelected] = useState(-1);
  const selected = Math.min(wanted, count - 1);
  const walk = useCallback(
    (by: number) =>
      setSelected((now) => Math.max(0, Math.min(count - 1, (now < 0 ? (by > 0 ? -1 : 0) : now) + by))),
    [count],
  );
  return { selected, setSelected, walk };
}
