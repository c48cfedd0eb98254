import { useEffect } from 'react';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { Bench } from './useBench';
import { allDoubtWords } from '@/words/doubts';

/** The browser keeps that nobody wants to be asked. */
const UNASKED = 'grento-save-unasked';
/** The sample about which it is asked whether it is to be saved all the same. */
const asked = createStore<{ sampleId: string | null }>(() => ({ sampleId: null }));
const ask = (sampleId: string | null) => asked.setState({ sampleId });

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

/** Saves to the Shelf; what is unproved or uncertain is asked about once, unless somebody does not want that. */
export function save(bench: Bench): void {
  const { sampleId, standing } = bench.entry.summary;
  if (standing === 'arrived' || standing === 'saved') return;
  const isAsked = asked.getState().sampleId === sampleId || localStorage.getItem(UNASKED) === 'yes';
  if (isAsked || againstSaving(bench).length === 0) store(bench);
  else ask(sampleId);
}

/** Whether it is asked if a sample is to be saved all the same, and the two answers. */
export function useSaving(bench: Bench) {
  const askedFor = useStore(asked, ({ sampleId }) => sampleId);
  const { sampleId } = bench.entry.summary;
  const isAsking = askedFor === sampleId;
  // Where nothing speaks against it any more, as when a proof was on its way, it is saved as was wanted.
  const isAnswered = isAsking && againstSaving(bench).length === 0;
  useEffect(() => {
    if (isAnswered) store(bench);
  }, [isAnswered, bench]);
  // Who leaves the sample does not want it saved by what comes later.
  useEffect(() => () => ask(null), [sampleId]);
  return {
    isAsking,
    confirm: (never: boolean) => {
      if (never) localStorage.setItem(UNASKED, 'yes');
      store(bench);
    },
    leave: () => ask(null),
  };
}
