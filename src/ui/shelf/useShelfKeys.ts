'use client';
import type { SampleSummary } from '@/contract/entry';
import { takeAway } from '../api/archives';
import type { useHearTogether, usePutIntoBlend } from '../blend/putIntoBlend';
import type { BulkPart } from '../bulk/BulkBar';
import type { useBulk } from '../bulk/useBulk';
import { useShortcuts } from '../kit/shortcuts';
import { tell } from '../kit/useAction';
import type { Listing } from '../list/usePagedList';
import type { Selection } from '../list/useSelection';
import type { usePutIntoPack } from '../packs/putIntoPack';
import { SHELF, STEPS, TARGET_STEPS } from '../shortcuts/shortcutTables';
import { stepTargetKey, stepTargetTempo } from '../target/target';
import type { Aim } from '../target/useAim';
import { choiceId } from './TargetChoice';

interface Keyed {
  list: Listing<SampleSummary>;
  selection: Selection<SampleSummary>;
  aim: Aim;
  bulk: ReturnType<typeof useBulk>;
  setPart: (part: BulkPart | null) => void;
  intoBlend: ReturnType<typeof usePutIntoBlend>;
  intoPack: ReturnType<typeof usePutIntoPack>;
  hearTogether: ReturnType<typeof useHearTogether>;
  onSimilar: (sampleId: string) => void;
  onDetails: () => void;
  onTiles: () => void;
  onOverview: () => void;
}

/** The keys of the Shelf. */
export function useShelfKeys(keyed: Keyed): void {
  const { list, selection, aim, bulk, setPart, intoBlend, intoPack, hearTogether } = keyed;
  const { cursor } = list;
  const { targets } = selection;
  const ids = targets.map(({ sampleId }) => sampleId);
  const stepBeside = (by: number) => {
    const next = cursor.step(by);
    if (next) void aim.play(next, 0, true);
  };
  const download = (as: 'tagged' | 'original') => void takeAway(ids, as).catch(tell);
  const openPart = (part: BulkPart) => () => ids.length > 0 && setPart(part);
  const rate = (rating: number) => () => bulk.perform({ do: 'write', patch: { rating } }, targets);
  useShortcuts(SHELF, {
    keepDown: () => stepBeside(1),
    keepUp: () => stepBeside(-1),
    similar: () => cursor.row && keyed.onSimilar(cursor.row.sampleId),
    originals: () => download('original'),
    tagged: () => download('tagged'),
    details: keyed.onDetails,
    tags: openPart('tags'),
    render: openPart('render'),
    rename: openPart('rename'),
    ...{ rate1: rate(1), rate2: rate(2), rate3: rate(3), rate4: rate(4), rate5: rate(5) },
    blend: () => intoBlend(ids),
    together: () => hearTogether(ids),
    pack: () => intoPack(ids),
    choice: () => cursor.row && document.getElementById(choiceId(cursor.row.sampleId))?.click(),
    grid: keyed.onTiles,
    overview: keyed.onOverview,
  });
  useShortcuts(STEPS, { undo: () => bulk.undo(), redo: () => bulk.redo() });
  useShortcuts(TARGET_STEPS, {
    faster: () => stepTargetTempo(1),
    slower: () => stepTargetTempo(-1),
    higher: () => stepTargetKey(1),
    lower: () => stepTargetKey(-1),
  });
}
