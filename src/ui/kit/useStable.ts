'use client';
import { useCallback, useLayoutEffect, useRef } from 'react';

/** A function that stays the same while it does what the newest render says: rows that get it need not render again. */
export function useStable<A extends unknown[], R>(act: (...args: A) => R): (...args: A) => R {
  const newest = useRef(act);
  useLayoutEffect(() => {
    newest.current = act;
  });
  return useCallback((...args: A) => newest.current(...args), []);
}
