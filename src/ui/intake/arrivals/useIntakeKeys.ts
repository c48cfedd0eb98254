'use client';
import type { SampleSummary } from '@/contract/entry';
import { useHearTogether, usePutIntoBlend } from '../../blend/putIntoBlend';
import type { BulkPart } from '../../bulk/BulkBar';
import type { useBulk } from '../../bulk/useBulk';
import { useShortcuts } from '../../kit/shortcuts';
import type { Listing } from '../../list/usePagedList';
import type { Selection } from '../../list/useSelection';
import { INTAKE, STEPS } from '../../shortcuts/shortcutTables';
import type { RowActions } from './useRowActions';

interface Keyed {
  list: Listing<SampleSummary>;
  selection: Selection<SampleSummary>;
  actions: RowActions;
  bulk: ReturnType<typeof useBulk>;
  setPart: (part: BulkPart | null) => void;
  /** The bin is listed. */
  isBin: boolean;
}

/** The keys of the Intake. */
export function useIntakeKeys({ list, selection, actions, bulk, setPart, isBin }: Keyed): void {
  const { cursor, rowAt } = list;
  const { targets } = selection;
  const ids = targets.map(({ sampleId }) => sampleId);
  const intoBlend = usePutIntoBlend();
  const hearTogether = useHearTogether();
  const extend = (by: number) => {
    const next = rowAt(Math.max(0, Math.min(list.total - 1, cursor.at + by)));
    selection.add([cursor.row, next].flatMap((row) => row ?? []));
    cursor.step(by);
  };
  const openPart =
    (part: BulkPart, least = 1) =>
    () =>
      targets.length >= least && setPart(part);
  useShortcuts(INTAKE, {
    extendDown: () => extend(1),
    extendUp: () => extend(-1),
    withClick: actions.playWithClick,
    accept: actions.accept,
    half: () => actions.scale(0.5),
    double: () => actions.scale(2),
    measure: openPart('measure'),
    tags: openPart('tags'),
    rename: openPart('rename'),
    join: openPart('join', 2),
    blend: () => intoBlend(ids),
    together: () => hearTogether(ids),
    bin: () => {
      void bulk.perform({ do: isBin ? 'restore' : 'bin' }, targets);
      if (selection.size === 0) cursor.step(1);
      selection.clear();
    },
  });
  useShortcuts(STEPS, { undo: () => bulk.undo(), redo: () => bulk.redo() });
}
