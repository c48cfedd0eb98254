'use client';
import { useCallback, useMemo, useState } from 'react';
import { estimateTaps, type TapEstimate } from '@/core/rhythm/taps';
import { engine } from '../audio/engine';
import { NO_TAPS, tapped, type TapRow } from './tapClock';

/** What one tap may stand for, in felt beats. */
export const TAP_UNITS = [
  { beats: 0.5, name: 'half a beat' },
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

/** Collects taps, on a clock that runs on whatever the playback does. A long pause begins another row. */
export function useTaps(): Taps {
  const [taps, setTaps] = useState<TapRow>(NO_TAPS);
  const [unit, setUnit] = useState(1);
  const [placesOne, setPlacesOne] = useState(false);
  const tap = useCallback((at: number) => {
    const { status, speed } = engine.getState();
    const isHeard = status === 'playing';
    const late = Math.max(0, performance.now() - at) / 1000;
    const position = isHeard ? engine.position() - late * speed : null;
    setTaps((row) => tapped(row, { at: at / 1000, position, speed: isHeard ? speed : 1 }));
  }, []);
  const clear = useCallback(() => setTaps(NO_TAPS), []);
  const estimate = useMemo((): TapReading | null => {
    const found = estimateTaps(taps.times);
    if (!found) return null;
    const bpm = found.bpm * unit;
    const period = 60 / found.bpm;
    const begin = taps.times[found.leftOut?.taps ?? 0];
    const first = found.anchor - Math.round((found.anchor - begin) / period) * period;
    return {
      ...found,
      bpm,
      bpmError: found.bpmError * unit,
      settled: found.taps >= SETTLED_TAPS && found.bpmError < SETTLED_SHARE * found.bpm,
      // Only the very first tap has a place in the audio that is known.
      first: taps.isHeard && !found.leftOut ? first : null,
    };
  }, [taps, unit]);
  const count = taps.times.length;
  return useMemo(
    () => ({ tap, clear, count, estimate, unit, setUnit, placesOne, setPlacesOne }),
    [tap, clear, count, estimate, unit, placesOne],
  );
}
