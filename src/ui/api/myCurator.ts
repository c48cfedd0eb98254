import { useSyncExternalStore } from 'react';
import { createStore } from 'zustand/vanilla';

const KEY = 'grento-curator';
/** Counts what was chosen here; what is chosen in another tab its storage event tells. */
const chosen = createStore(() => 0);

/** The curator that this browser was said to belong to; null: whoever was there first. */
export function storedCurator(): string | null {
  return typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY);
}

export function rememberCurator(curatorId: string) {
  localStorage.setItem(KEY, curatorId);
  chosen.setState((count) => count + 1, true);
}

/** … and renders again when another is chosen, also in another tab. */
export function useStoredCurator(): string | null {
  return useSyncExternalStore(subscribe, storedCurator, () => null);
}

function subscribe(listener: () => void) {
  const stop = chosen.subscribe(listener);
  window.addEventListener('storage', listener);
  return () => {
    stop();
    window.removeEventListener('storage', listener);
  };
}
