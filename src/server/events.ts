import { listenToSamples, type SampleChanged } from '@/store/notifications';

type Heard = (change: SampleChanged | 'missed') => void;

/** One listening connection for the whole web process, however many pages are open. */
const hub = globalThis as { grentoListeners?: Set<Heard> };

/** Calls `heard` for every change of a sample from now on ('missed': ask for everything anew). Returns the end of it. */
export function onSampleChange(heard: Heard): () => void {
  if (!hub.grentoListeners) {
    const listeners = new Set<Heard>();
    hub.grentoListeners = listeners;
    listenToSamples(
      (change) => listeners.forEach((listener) => listener(change)),
      () => listeners.forEach((listener) => listener('missed')),
    );
  }
  const listeners = hub.grentoListeners;
  listeners.add(heard);
  return () => listeners.delete(heard);
}
