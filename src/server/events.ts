import type { LiveEvent } from '@/contract/events';
import { listenToEvents } from '@/store/notifications';

type Heard = (event: LiveEvent) => void;

/** One listening connection for the whole web process, however many pages are open. */
const hub = globalThis as { grentoListeners?: Set<Heard> };

/** Calls `heard` for everything that happens in the library from now on. Returns the end of it. */
export function onEvent(heard: Heard): () => void {
  if (!hub.grentoListeners) {
    const listeners = new Set<Heard>();
    hub.grentoListeners = listeners;
    listenToEvents((event) => listeners.forEach((listener) => listener(event)));
  }
  const listeners = hub.grentoListeners;
  listeners.add(heard);
  return () => listeners.delete(heard);
}
