'use client';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { notes } from '../audio/notes';

export interface HeldNotes {
  /** MIDI notes that sound now. */
  held: ReadonlySet<number>;
  press: (midi: number) => void;
  release: (midi: number) => void;
  releaseAll: () => void;
}

/** Notes that sound while they are held, at a tuning; all end when the view is left. */
export function useHeldNotes(tuningCents: number): HeldNotes {
  const [held, setHeld] = useState<ReadonlySet<number>>(new Set<number>());
  const press = useCallback(
    (midi: number) => {
      void notes.hold(midi, tuningCents);
      setHeld((before) => new Set(before).add(midi));
    },
    [tuningCents],
  );
  const release = useCallback((midi: number) => {
    notes.letGo(midi);
    setHeld((before) => {
      const next = new Set(before);
      next.delete(midi);
      return next;
    });
  }, []);
  const releaseAll = useCallback(() => {
    notes.letAllGo();
    setHeld(new Set());
  }, []);
  useEffect(() => () => notes.letAllGo(), []);
  return useMemo(() => ({ held, press, release, releaseAll }), [held, press, release, releaseAll]);
}
