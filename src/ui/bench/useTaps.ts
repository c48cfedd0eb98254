'use client';
import { useCallback, useMemo, useState } from 'react';
import { estimateTaps, type TapEstimate } from '@/core/rhythm/taps';
import { player } from '../audio/player';

export interface Taps {
  tap: () => void;
  clear: () => void;
  count: number;
  estimate: TapEstimate | null;
}

/** Collects taps: on the audio's clock while it plays, on the page's otherwise. A long pause begins anew. */
export function useTaps(): Taps {
  const [times, setTimes] = useState<readonly number[]>([]);
  const tap = useCallback(() => {
    const playing = player.getState().status === 'playing';
    const now = playing ? player.position() : performance.now() / 1000;
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
