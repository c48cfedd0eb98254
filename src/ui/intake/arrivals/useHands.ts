'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { toast } from 'sonner';
import { settleReadings, withItsGrid } from '@/library/samples/applyReading';
import type { SampleEntry, SampleSummary, StoredReading } from '@/contract/entry';
import type { Target } from '@/contract/orders';
import { fetchEntry } from '../../api/samples';
import { changeSample } from '../../outbox/sampleOutbox';
import { engine } from '../../audio/engine';
import { atTarget, useAim } from '../../target/useAim';
import type { useBulk } from '../../bulk/useBulk';

/** What can be done with the row under the cursor. */
export interface Hands {
  accept: () => void;
  open: () => void;
  play: () => void;
  playWithClick: () => void;
  /** At the tempo and key of the target. */
  playAtTarget: () => void;
  scale: (ratio: number) => void;
  choose: (reading: StoredReading) => void;
}

interface Given {
  row: SampleSummary | null;
  entry: SampleEntry | null;
  /** The samples that act together; the row alone when none are chosen. */
  targets: readonly Target[];
  bulk: ReturnType<typeof useBulk>;
  open: (sampleId: string) => void;
  /** Goes on to the next row. */
  next: () => void;
}

export function useHands({ row, entry, targets, bulk, open, next }: Given): Hands {
  const queries = useQueryClient();
  const { perform } = bulk;
  const aim = useAim();
  return useMemo(
    () => ({
      accept: () => {
        void perform({ do: 'accept', above: null }, targets);
        if (targets.length === 1) next();
      },
      open: () => row && open(row.sampleId),
      play: () => row && engine.toggleAlone(row.sampleId, row.durationSeconds),
      playWithClick: () => {
        if (!row) return;
        const { sampleId, status } = engine.getState();
        if (sampleId === row.sampleId && status === 'playing') return engine.stop();
        void hearWithClick(row.sampleId, entry);
      },
      playAtTarget: () => row && atTarget(aim, row),
      scale: (ratio) => void perform({ do: 'scale', ratio }, targets),
      choose: (reading) => {
        if (!entry || entry.sequence === null) return;
        const whole = withItsGrid(reading, entry.readings);
        void changeSample(entry.summary.sampleId, entry.sequence, {
          do: 'settle',
          words: `${reading.source} chosen for ${reading.property}`,
          patch: settleReadings(entry.settled, whole, entry.measurement),
        })
          .then(() => queries.invalidateQueries())
          .catch((error: Error) => toast.error(error.message));
      },
    }),
    [row, entry, targets, perform, open, next, queries, aim],
  );
}

/** Plays a sample from its one, with the click on its settled grid. */
async function hearWithClick(sampleId: string, known: SampleEntry | null) {
  try {
    const entry = known?.summary.sampleId === sampleId ? known : await fetchEntry(sampleId);
    const { grid } = entry.settled;
    if (!(await engine.open(sampleId, entry.summary.durationSeconds).ready)) return;
    engine.setGrid(grid);
    engine.setClick({ on: true });
    engine.setLegs([]);
    await engine.play(Math.max(0, (grid?.one ?? 0) - 0.3));
  } catch (error) {
    toast.error((error as Error).message);
  }
}
