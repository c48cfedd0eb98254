'use client';
import { useState } from 'react';
import { estimateTaps } from '@/core/rhythm/taps';

/** A tempo tapped on a button: `onTempo` gets it to a tenth of a BPM as soon as there is one within the bounds. */
export function useTapTempo(
  { least, most }: { least: number; most: number },
  onTempo: (bpm: number) => void,
) {
  const [taps, setTaps] = useState<readonly number[]>([]);
  return (atMs: number) => {
    const times = [...taps, atMs / 1000].slice(-32);
    setTaps(times);
    const found = estimateTaps(times);
    if (found && found.bpm >= least && found.bpm <= most) onTempo(Math.round(found.bpm * 10) / 10);
  };
}
