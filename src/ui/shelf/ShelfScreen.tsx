'use client';
import { useRouter } from 'next/navigation';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import type { SampleSummary } from '@/contract/entry';
import type { SamplePage, ShelfView } from '@/contract/shelfQuery';
import { fetchShelf, fetchShelfFacets, fetchShelfTargets } from '../api/shelf';
import { useOpenOnBench } from '../api/useEntry';
import { engine } from '../audio/engine';
import { DraggedRow, DropIntoBlend } from '../blend/DropIntoBlend';
import { useHearTogether, usePutIntoBlend } from '../blend/putIntoBlend';
import { BulkBar, type BulkPart } from '../bulk/BulkBar';
import { useBulk } from '../bulk/useBulk';
import { openAsCut } from '../family/cutDrafts';
import { useAddressed } from '../kit/useAddressed';
import { returnTo, useReturning } from '../list/returning';
import { SampleList } from '../list/SampleList';
import { useListKeys } from '../list/useListKeys';
import { usePagedList } from '../list/usePagedList';
import { useSelection } from '../list/useSelection';
import { rememberWorkingList } from '../list/workingList';
import { usePutIntoPack } from '../packs/putIntoPack';
import { MadeLine } from '../tasks/MadeLine';
import { useTakesInHand } from '../target/sampleInHand';
import { aimOf, useTarget } from '../target/target';
import { useAim } from '../target/useAim';
import { ShelfAside, type Aside } from './ShelfAside';
import { ErrorsLeft } from '../list/ErrorsLeft';
import { leastCertainPath } from '../intake/arrivals/intakeView';
import { ShelfBar, sortedByColumn } from './ShelfBar';
import { shelfColumns, ShelfTile, type ShelfActions } from './shelfColumns';
import { ShelfEmpty } from './ShelfEmpty';
import { overviewOpen } from './overview/overviewOpen';
import { ShelfOverview } from './overview/ShelfOverview';
import { useShelfKeys } from './useShelfKeys';
import { askedOf, SHELF_ADDRESS, shelfParams, unordered, WHOLE_SHELF } from './useShelfQuery';

/** Saved samples: search, step along and hear them at once, download and reuse them. */
export function ShelfScreen() {
  const openOnBench = useOpenOnBench();
  const [view, setView] = useAddressed<ShelfView>(() => WHOLE_SHELF, SHELF_ADDRESS);
  const target = useTarget();
  const aim = useAim({ isSaid: true });
  const asked = useDeferredValue(useMemo(() => askedOf(view, target), [view, target]));
  const list = usePagedList<SampleSummary, SamplePage>({
    queryKey: ['shelf', asked],
    fetchPage: (page, signal) => fetchShelf(shelfParams(asked, page), signal),
  });
  const { rows, rowAt, cursor, first, total } = list;
  const { data: counts } = useQuery({
    queryKey: ['shelf', 'facets', unordered(asked)],
    queryFn: ({ signal }) => fetchShelfFacets(shelfParams(asked, {}), signal),
    placeholderData: keepPreviousData,
  });
  useEffect(() => () => engine.stop(), []);
  const selection = useSelection(list, () => fetchShelfTargets(shelfParams(asked, {})));
  const bulk = useBulk('shelf');
  const [part, setPart] = useState<BulkPart | null>(null);
  const [aside, setAside] = useState<Aside>('search');
  const [isTiles, setTiles] = useState(false);
  const isOverviewOpen = overviewOpen.use();
  const open = useCallback(
    (sampleId: string) => {
      rememberWorkingList(rows);
      returnTo('shelf', sampleId);
      openOnBench(sampleId);
    },
    [rows, openOnBench],
  );
  const current = cursor.row;
  useTakesInHand(current, aim);
  useReturning('shelf', list);
  const [above, below] = [rowAt(cursor.at - 1), rowAt(cursor.at + 1)];
  useEffect(() => {
    if (current) aim.prepare([current, below, above]);
  }, [aim, target, cursor.at, current, below, above]);
  const intoBlend = usePutIntoBlend();
  const intoPack = usePutIntoPack();
  const hearTogether = useHearTogether();
  useListKeys({
    ...{ list, selection },
    onStep: (row) => void aim.play(row, 0),
    onPlay: (row) => aim.toggle(row),
    onOpen: ({ sampleId }) => open(sampleId),
    onCut: ({ sampleId }) => {
      openAsCut(sampleId);
      open(sampleId);
    },
  });
  useShelfKeys({
    ...{ list, selection, aim, bulk, setPart, intoBlend, intoPack, hearTogether },
    onSimilar: (sampleId) =>
      setView((now) => ({ ...now, like: sampleId, sort: 'likeness', direction: 'up' })),
    onDetails: () => setAside((now) => (now === 'search' ? 'details' : 'search')),
    onTiles: () => setTiles((now) => !now),
    onOverview: () => overviewOpen.set(!overviewOpen.now()),
  });

  const at = useMemo(() => (target.isOn ? aimOf(target) : null), [target]);
  const actions = useMemo(
    (): ShelfActions => ({
      ...{ aim, target: at, onOpen: open },
      onBlend: ({ sampleId }) => intoBlend([sampleId]),
      onPack: ({ sampleId }) => intoPack([sampleId]),
      // What sounds sounds as it was chosen.
      onChoice: (row) => {
        const { status, sampleId } = engine.getState();
        if (status === 'playing' && sampleId === row.sampleId) void aim.play(row);
      },
    }),
    [aim, at, open, intoBlend, intoPack],
  );
  const columns = useMemo(() => shelfColumns(actions), [actions]);
  const tiles = useMemo(
    () =>
      isTiles
        ? {
            across: 4,
            height: 136,
            tile: (row: SampleSummary) => <ShelfTile row={row} aim={aim} target={at} />,
          }
        : null,
    [isTiles, aim, at],
  );
  const router = useRouter();
  return (
    <DropIntoBlend>
      <div className="relative flex h-full">
        <h1 className="sr-only">Shelf</h1>
        <ShelfAside
          {...{ aside, view, counts, current }}
          targetKey={aimOf(target).key}
          onAside={setAside}
          onView={setView}
        />
        <div className="flex min-w-0 flex-1 flex-col">
          <ShelfBar
            {...{ view, total, first, isTiles, isOverviewOpen }}
            onView={setView}
            onTiles={setTiles}
            onOverview={overviewOpen.set}
          />
          {isOverviewOpen && <ShelfOverview {...{ view, asked, counts }} onView={setView} />}
          <MadeLine place="shelf" />
          <ErrorsLeft
            className="border-b border-rule px-4 py-0.5"
            of="saved"
            onList={(guessed) => router.push(leastCertainPath(guessed))}
          />
          <SampleList
            name="shelf"
            label="Saved samples"
            {...{ list, columns, selection, tiles }}
            rowHeight={48}
            leastWidth="min-w-[58rem]"
            sorting={{
              ...{ by: view.sort, direction: view.direction },
              onSort: (by) => setView(sortedByColumn(view, by)),
            }}
            onOpen={open}
            Frame={DraggedRow}
            empty={<ShelfEmpty list={list} isWhole={JSON.stringify(view) === JSON.stringify(WHOLE_SHELF)} />}
          />
          {(selection.size > 1 || part || bulk.run) && (
            <BulkBar
              {...{ bulk, part }}
              targets={selection.targets}
              sample={current}
              where="shelf"
              onPart={setPart}
              onClear={selection.clear}
            />
          )}
        </div>
      </div>
    </DropIntoBlend>
  );
}
