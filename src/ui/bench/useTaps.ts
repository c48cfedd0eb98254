'use client';
import { useCallback, useMemo, useState } from 'react';
import { estimateTaps, type TapEstimate } from '@/core/rhythm/taps';
import { engine } from '../audio/engine';

/** What one tap may stand for, in felt beats. */
export const TAP_UNITS = [
  { beats: 0.5, name: 'half beat' },
  { beats: 1, name: 'beat' },
  { beats: 2, name: 'two beats' },
  { beats: 3, name: 'three beats' },
  { beats: 4, name: 'four beats' },
] as const;

interface TapReading extends TapEstimate {
  /** Enough taps agree that more would hardly change it. */
  settled: boolean;
  /** Place of the first tap on the fitted line, seconds in the audio; null when it was tapped without sound. */
  first: number | null;
}

export interface Taps {
  /** `at` is the event's own time stamp: earlier, and steadier, than the moment it is handled. */
  tap: (at: number) => void;
  clear: () => void;
  count: number;
  estimate: TapReading | null;
  /** Beats that one tap stands for. */
  unit: number;
  setUnit: (beats: number) => void;
  placesOne: boolean;
  setPlacesOne: (places: boolean) => void;
}

/** A standard error below this share of the tempo counts as settled. */
const SETTLED_SHARE = 0.004;
const SETTLED_TAPS = 8;

/** Collects taps: on the audio's clock while it plays, on the page's otherwise. A long pause begins anew. */
export function useTaps(): Taps {
  const [taps, setTaps] = useState<{ times: readonly number[]; heard: boolean }>({ times: [], heard: false });
  const [unit, setUnit] = useState(1);
  const [placesOne, setPlacesOne] = useState(false);
  const tap = useCallback((at: number) => {
    const heard = engine.getState().status === 'playing';
    const late = Math.max(0, performance.now() - at) / 1000;
    const now = (heard ? engine.position() : performance.now() / 1000) - late;
    setTaps(({ times, heard: before }) => {
      const last = times[times.length - 1];
      const goesOn = last !== undefined && before === heard && now > last && now - last < 3;
      return { heard, times: goesOn ? [...times.slice(-63), now] : [now] };
    });
  }, []);
  const clear = useCallback(() => setTaps({ times: [], heard: false }), []);
  const estimate = useMemo((): TapReading | null => {
    const found = estimateTaps(taps.times);
    if (!found) return null;
    const bpm = found.bpm * unit;
    const period = 60 / found.bpm;
    const first = found.anchor - Math.round((found.anchor - taps.times[0]) / period) * period;
    return {
      ...found,
      bpm,
      bpmError: found.bpmError * unit,
      settled: found.taps >= SETTLED_TAPS && found.bpmError < SETTLED_SHARE * found.bpm,
      first: taps.heard ? first : null,
    };
  }, [taps, unit]);
  const count = taps.times.length;
  return useMemo(
    () => ({ tap, clear, count, estimate, unit, setUnit, placesOne, setPlacesOne }),
    [tap, clear, count, estimate, unit, placesOne],
  );
}
