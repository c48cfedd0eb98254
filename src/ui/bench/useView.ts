'use client';
import { useCallback, useMemo, useState } from 'react';
import type { Window } from '../trace/waveform';

/** Never less than this many seconds across: at 44.1 kHz about ninety samples. */
const NARROWEST = 0.002;

export interface View extends Window {
  /** Zooms by a factor about a time. */
  zoom: (factor: number, about: number) => void;
  pan: (seconds: number) => void;
  show: (from: number, to: number) => void;
  /** Turns the page when a time is not in sight. */
  reveal: (time: number) => void;
}

/** The visible stretch of a file of `duration` seconds. */
export function useView(duration: number): View {
  const [window, setWindow] = useState<Window>({ from: 0, to: duration });
  const fit = useCallback(
    (from: number, to: number): Window => {
      const span = Math.max(NARROWEST, Math.min(duration * 1.02, to - from));
      const margin = span * 0.02;
      const start = Math.max(-margin, Math.min(duration + margin - span, from));
      return { from: start, to: start + span };
    },
    [duration],
  );
  const show = useCallback((from: number, to: number) => setWindow(fit(from, to)), [fit]);
  const zoom = useCallback(
    (factor: number, about: number) =>
      setWindow(({ from, to }) => fit(about - (about - from) * factor, about + (to - about) * factor)),
    [fit],
  );
  const pan = useCallback(
    (seconds: number) => setWindow(({ from, to }) => fit(from + seconds, to + seconds)),
    [fit],
  );
  const reveal = useCallback(
    (time: number) =>
      setWindow((now) => {
        const span = now.to - now.from;
        return time >= now.from && time <= now.to ? now : fit(time - span * 0.08, time + span * 0.92);
      }),
    [fit],
  );
  return useMemo(() => ({ ...window, zoom, pan, show, reveal }), [window, zoom, pan, show, reveal]);
}
