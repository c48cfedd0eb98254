import { useSyncExternalStore } from 'react';

let isThere = true;
const listeners = new Set<() => void>();

/** Says whether Grento answers. */
export function noteLine(now: boolean): void {
  if (now === isThere) return;
  isThere = now;
  listeners.forEach((listener) => listener());
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Whether Grento answers, as far as the page knows. */
export const useLine = (): boolean =>
  useSyncExternalStore(
    subscribe,
    () => isThere,
    () => true,
  );
