import { useSyncExternalStore } from 'react';
import type { Bench } from './useBench';
import { allDoubtWords } from '@/words/doubts';

/** The browser keeps that nobody wants to be asked. */
const UNASKED = 'grento-save-unasked';
let askedFor: string | null = null;
const listeners = new Set<() => void>();
const ask = (sampleId: string | null) => {
  askedFor = sampleId;
  listeners.forEach((listener) => listener());
};
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** What speaks against saving a sample unasked, in words: doubts, and a grid that nobody proved. */
export function againstSaving({ entry: { summary, settled } }: Bench): string[] {
  const unproved =
    settled.grid !== null && summary.proof !== 'current' ? ['not proved against the click'] : [];
  return [...unproved, ...allDoubtWords(summary.doubts)];
}

const store = (bench: Bench) => {
  ask(null);
  void bench.order({ do: 'save' }, 'saved', 'Saved to the Shelf.');
};

/** Saves to the Shelf; what is unproved or in doubt is asked about once, unless somebody does not want that. */
export function save(bench: Bench): void {
  const { sampleId, standing } = bench.entry.summary;
  if (standing === 'arrived' || standing === 'saved') return;
  const isAsked = askedFor === sampleId || localStorage.getItem(UNASKED) === 'yes';
  if (isAsked || againstSaving(bench).length === 0) store(bench);
  else ask(sampleId);
}

/** Whether it is asked if a sample is to be saved all the same, and the two answers. */
export function useSaving(bench: Bench) {
  const asked = useSyncExternalStore(
    subscribe,
    () => askedFor,
    () => null,
  );
  return {
    isAsking: asked === bench.entry.summary.sampleId,
    confirm: (never: boolean) => {
      if (never) localStorage.setItem(UNASKED, 'yes');
      store(bench);
    },
    leave: () => ask(null),
  };
}
