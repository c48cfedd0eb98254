'use client';
import { useCallback, useMemo, useState } from 'react';
import { estimateTaps, type TapEstimate } from '@/core/rhythm/taps';
import { player } from '../audio/player';

export interface Taps {
  /** `at` is the event's own time stamp: earlier, and steadier, than the moment it is handled. */
  tap: (at: number) => void;
  clear: () => void;
  count: number;
  estimate: TapEstimate | null;
}

/** Collects taps: on the audio's clock while it plays, on the page's otherwise. A long pause begins anew. */
export function useTaps(): Taps {
  const [times, setTimes] = useState<readonly number[]>([]);
  const tap = useCallback((at: number) => {
    const playing = player.getState().status === 'playing';
    const late = Math.max(0, performance.now() - at) / 1000;
    const now = (playing ? player.position() : performance.now() / 1000) - late;
    setTimes((before) => {
      const last = before[before.length - 1];
      const goesOn = last !== undefined && now > last && now - last < 3;
      return goesOn ? [...before.slice(-63), now] : [now];
    });
  }, []);
  const clear = useCallback(() => setTimes([]), []);
  const estimate = useMemo(() => estimateTaps(times), [times]);
  return { tap, clear, count: times.length, estimate };
}
