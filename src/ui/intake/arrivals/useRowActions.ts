'use client';
import { useMemo } from 'react';
import { settleReadings, withItsGrid } from '@/library/samples/applyReading';
import type { SampleEntry, SampleSummary, StoredReading } from '@/contract/entry';
import type { Target } from '@/contract/orders';
import { fetchEntry } from '../../api/samples';
import { engine } from '../../audio/engine';
import type { useBulk } from '../../bulk/useBulk';
import { tell, useAction } from '../../kit/useAction';
import { changeSample } from '../../outbox/sampleOutbox';
import type { Aim } from '../../target/useAim';

/** What can be done with the row under the cursor. */
export interface RowActions {
  accept: () => void;
  open: () => void;
  play: () => void;
  playWithClick: () => void;
  scale: (ratio: number) => void;
  use: (reading: StoredReading) => void;
}

interface Given {
  row: SampleSummary | null;
  entry: SampleEntry | null;
  /** The samples that the action is for; the row alone when none are selected. */
  targets: readonly Target[];
  bulk: ReturnType<typeof useBulk>;
  aim: Aim;
  open: (sampleId: string) => void;
  /** Goes on to the next row. */
  next: () => void;
}

export function useRowActions({ row, entry, targets, bulk, aim, open, next }: Given): RowActions {
  const { perform } = bulk;
  const { act: use } = useAction({
    run: async (reading: StoredReading) => {
      if (!entry || entry.sequence === null) return;
      await changeSample(entry.summary.sampleId, entry.sequence, {
        do: 'settle',
        words: `${reading.source} selected for ${reading.property}`,
        patch: settleReadings(entry.settled, withItsGrid(reading, entry.readings), entry.measurement),
      });
    },
  });
  return useMemo(
    () => ({
      accept: () => {
        void perform({ do: 'accept', above: null }, targets);
        if (targets.length === 1) next();
      },
      open: () => row && open(row.sampleId),
      play: () => row && aim.toggle(row),
      playWithClick: () => {
        if (!row) return;
        const { sampleId, status } = engine.getState();
        if (sampleId === row.sampleId && status === 'playing') return engine.stop();
        void playWithClick(row.sampleId, entry);
      },
      scale: (ratio) => void perform({ do: 'scale', ratio }, targets),
      use,
    }),
    [row, entry, targets, perform, open, next, use, aim],
  );
}

/** Plays a sample from its one, with the click on its grid in use. */
async function playWithClick(sampleId: string, known: SampleEntry | null) {
  try {
    const entry = known?.summary.sampleId === sampleId ? known : await fetchEntry(sampleId);
    const { grid } = entry.settled;
    if (!(await engine.open(sampleId, entry.summary.durationSeconds).ready)) return;
    engine.setGrid(grid);
    engine.setClick({ on: true });
    engine.setSegments([]);
    await engine.play(Math.max(0, (grid?.one ?? 0) - 0.3));
  } catch (error) {
    tell(error);
  }
}
