'use client';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { Finds } from '@/core/recipes/finds';
import type { FindsAnswer, FindsRequest } from '@/contract/workers/finds';
import type { Traces } from '@/core/traces/traces';
import type { Bench } from '../useBench';

const NOTHING: Finds = { stretches: [], hits: [] };
const KEPT = new Map<string, { of: string; finds: Finds }>();

/** What loops in the sample on the Bench, found once for each grid, in a worker; looked for when it is wanted first. */
export function useFinds(
  { audio, grid, entry }: Bench,
  traces: Traces | null,
  isWanted: boolean,
): Finds | null {
  const { sampleId } = entry.summary;
  const of = JSON.stringify(grid);
  const [, renew] = useState(0);
  const known = KEPT.get(sampleId);
  const finds = known?.of === of ? known.finds : null;
  const onsets = entry.measurement?.onsets;
  useEffect(() => {
    if (finds || !isWanted || !audio || !traces || !onsets) return;
    const worker = new Worker('/built/finds.worker.js', { type: 'module' });
    const keep = (found: Finds) => {
      worker.terminate();
      KEPT.set(sampleId, { of, finds: found });
      renew((count) => count + 1);
    };
    worker.onmessage = ({ data }: MessageEvent<FindsAnswer>) => {
      if (data.kind === 'failed') toast.error(`No finds can be searched for here: ${data.message}.`);
      keep(data.kind === 'found' ? data.finds : NOTHING);
    };
    const { channels, sampleRate, durationSeconds } = audio;
    const { strength, chords } = traces;
    const asked: FindsRequest = {
      audio: { channels, sampleRate, durationSeconds },
      traces: { strength, chords },
      ...{ onsets, grid },
    };
    worker.postMessage(asked);
    return () => worker.terminate();
  }, [finds, isWanted, audio, onsets, traces, grid, sampleId, of]);
  return finds;
}
