'use client';
import { useSyncExternalStore } from 'react';
import { createStore } from 'zustand/vanilla';
import type { z } from 'zod';

export interface BrowserStore<T> {
  now: () => T;
  set: (value: T) => void;
  /** The value in a component; the server draws `start`. */
  use: () => T;
}

/** A value that is kept in this browser under a name; `start` where nothing is kept, or what is kept is not one. */
export function browserStore<T>(name: string, schema: z.ZodType<T>, start: T): BrowserStore<T> {
  // Null before anybody asked: the server has no store to read.
  const store = createStore<{ value: T | null }>(() => ({ value: null }));
  const now = (): T => {
    const { value } = store.getState();
    if (value !== null) return value;
    const read = kept(name, schema) ?? start;
    store.setState({ value: read });
    return read;
  };
  return {
    now,
    set: (value) => {
      store.setState({ value });
      try {
        localStorage.setItem(name, JSON.stringify(value));
      } catch {
        // The browser keeps nothing: it holds until the page is closed.
      }
    },
    use: () => useSyncExternalStore(store.subscribe, now, () => start),
  };
}

function kept<T>(name: string, schema: z.ZodType<T>): T | null {
  try {
    const read = schema.safeParse(JSON.parse(localStorage.getItem(name) ?? 'null'));
    return read.success ? read.data : null;
  } catch {
    return null;
  }
}
