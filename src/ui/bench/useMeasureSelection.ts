'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { remarkWords } from '@/words/remarks';
import { listenToStretch } from '../audio/listenToStretch';
import { tell } from '../kit/useAction';
import { stretchMeasured } from './gridMoves';
import { useBenchModel } from './useBenchModel';

/** Measures the selection by itself and extends its grid over the file; null while that runs, or nothing can be measured. */
export function useMeasureSelection(): (() => void) | null {
  const { bench, selected, settling } = useBenchModel();
  const { audio, shown } = bench;
  const running = useRef<AbortController | null>(null);
  const [isRunning, setRunning] = useState(false);
  useEffect(() => () => running.current?.abort(), []);
  const measure = useCallback(async () => {
    if (!audio || !selected) return;
    running.current = new AbortController();
    setRunning(true);
    try {
      const found = await listenToStretch(audio, selected, {}, running.current.signal);
      const move = stretchMeasured(shown, found, selected);
      if (move) settling.settle(move);
      else toast.error(found.remarks[0] ? remarkWords(found.remarks[0]) : 'No tempo found in the selection.');
    } catch (error) {
      if ((error as Error).name !== 'AbortError') tell(error);
    } finally {
      setRunning(false);
    }
  }, [audio, selected, shown, settling]);
  return audio && !isRunning ? () => void measure() : null;
}
