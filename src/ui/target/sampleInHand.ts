'use client';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { SampleSummary } from '@/contract/entry';
import type { Key } from '@/core/harmony/keyNames';
import { useStable } from '../kit/useStable';
import type { Aim } from './useAim';

/** Tempo and key that a target can be taken from. */
export interface TempoAndKey {
  tempoBpm: number | null;
  key: Key | null;
}

interface InHand {
  /** Null where it has neither tempo nor key. */
  values: TempoAndKey | null;
  play: () => void;
}

/** The sample that is worked with: under the cursor of a list, or on the Bench. */
const inHand = createStore<{ now: InHand | null }>(() => ({ now: null }));

export const sampleInHand = (): TempoAndKey | null => inHand.getState().now?.values ?? null;
export const useSampleInHand = (): TempoAndKey | null => useStore(inHand, ({ now }) => now?.values ?? null);

/** Plays the sample that is worked with, at the target; nothing where there is none. */
export const playInHand = (): void => inHand.getState().now?.play();

/** Says which sample is worked with on this screen; null where there is none. */
export function useTakesInHand(row: SampleSummary | null, aim: Aim): void {
  const { sampleId, tempoBpm = null, keyTonic: tonic = null, keyMode: mode = null } = row ?? {};
  const play = useStable(() => void (row && aim.play(row)));
  useEffect(() => {
    if (sampleId === undefined) return;
    const key = tonic !== null && mode !== null ? { tonic, mode } : null;
    inHand.setState({ now: { values: tempoBpm === null && key === null ? null : { tempoBpm, key }, play } });
    return () => inHand.setState({ now: null });
  }, [sampleId, tempoBpm, tonic, mode, play]);
}
