import { useSyncExternalStore } from 'react';

const KEY = 'grento-curator';
const listeners = new Set<() => void>();

/** The curator that this browser was said to belong to; null: whoever was there first. */
export function storedCurator(): string | null {
  return typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY);
}

export function rememberCurator(curatorId: string) {
  localStorage.setItem(KEY, curatorId);
  listeners.forEach((listener) => listener());
}

/** … and renders anew when another is chosen, also in another tab. */
export function useStoredCurator(): string | null {
  return useSyncExternalStore(subscribe, storedCurator, () => null);
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}
