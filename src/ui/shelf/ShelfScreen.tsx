'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { LayoutGrid } from 'lucide-react';
import Link from 'next/link';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { proposalOfRow } from '@/library/samples/aims';
import type { SampleSummary } from '@/contract/entry';
import type { SamplePage, ShelfQuery, ShelfView } from '@/contract/shelfQuery';
import { fetchShelf, fetchShelfFacets, fetchShelfTargets } from '../api/shelf';
import { useOpenOnBench } from '../api/useEntry';
import { engine } from '../audio/engine';
import { DropIntoBlend } from '../blend/DropIntoBlend';
import { usePutIntoBlend } from '../blend/putIntoBlend';
import { BulkBar, type BulkPart } from '../bulk/BulkBar';
import { useBulk } from '../bulk/useBulk';
import { useChoosing } from '../bulk/useChosen';
import { rememberWorkingList } from '../pieces/workingList';
import { fieldClass } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';
import { InsteadOf } from '../pieces/InsteadOf';
import { usePutIntoPack } from '../packs/putIntoPack';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { usePagedList } from '../pieces/usePagedList';
import { rowId } from '../pieces/rowGestures';
import { VirtualRows } from '../pieces/VirtualRows';
import { aimOf, useTarget } from '../target/target';
import { TargetBar } from '../target/TargetBar';
import { useAim } from '../target/useAim';
import { LikeBar } from './LikeBar';
import { ShelfFilters } from './ShelfFilters';
import { ShelfRow, ShelfTile } from './ShelfRow';
import { ThisOne } from './ThisOne';
import { useShelfKeys } from './useShelfKeys';
import { useAddressed } from '../pieces/useAddressed';
import { askedOf, SHELF_ADDRESS, shelfParams, WHOLE_SHELF } from './useShelfQuery';

const ROW_HEIGHT = 48;
/** Traces beside each other in the grid of them, and how tall one is. */
const TILES = 4;
const TILE_HEIGHT = 136;

const ASIDES = [
  { value: 'search', label: 'Search', keys: 'E' },
  { value: 'this one', label: 'This one', keys: 'E' },
] as const;

const SORTS: { label: string; sort: ShelfQuery['sort']; direction: ShelfQuery['direction'] }[] = [
  { label: 'saved last', sort: 'saved', direction: 'down' },
  { label: 'name', sort: 'name', direction: 'up' },
  { label: 'slow to fast', sort: 'tempo', direction: 'up' },
  { label: 'fast to slow', sort: 'tempo', direction: 'down' },
  { label: 'key', sort: 'key', direction: 'up' },
  { label: 'short to long', sort: 'length', direction: 'up' },
  { label: 'best rated', sort: 'rating', direction: 'down' },
  { label: 'least strain', sort: 'strain', direction: 'up' },
  { label: 'likeness', sort: 'likeness', direction: 'up' },
];

/** Saved samples: search, walk along and hear them at once, take them away. */
export function ShelfScreen() {
  const openOnBench = useOpenOnBench();
  const [view, setView] = useAddressed<ShelfView>(() => WHOLE_SHELF, SHELF_ADDRESS);
  const likeThis = useCallback(
    (sampleId: string) => setView((now) => ({ ...now, like: sampleId, sort: 'likeness', direction: 'up' })),
    [],
  );
  const target = useTarget();
  const aim = useAim({ isSaid: true });
  const asked = useDeferredValue(useMemo(() => askedOf(view, target), [view, target]));
  const list = usePagedList<SampleSummary, SamplePage>({
    queryKey: ['shelf', asked],
    fetchPage: (page, signal) => fetchShelf(shelfParams(asked, page), signal),
  });
  const { rows, rowAt, total, first, onRange, selected, held, moves, setSelected, walk } = list;
  const { data: counts } = useQuery({
    queryKey: [
      'shelf',
      'facets',
      { ...asked, sort: null, direction: null, targetTempo: null, targetKey: null },
    ],
    queryFn: ({ signal }) => fetchShelfFacets(shelfParams(asked, {}), signal),
    placeholderData: keepPreviousData,
  });
  useEffect(() => () => engine.stop(), []);

  const { chosen, current, targets, select, chooseAll } = useChoosing({
    ...{ rowAt, total, selected, held, setSelected },
    all: () => fetchShelfTargets(shelfParams(asked, {})),
  });
  const bulk = useBulk();
  const [part, setPart] = useState<BulkPart | null>(null);
  const [aside, setAside] = useState<'search' | 'this one'>('search');
  const [isTiles, setTiles] = useState(false);
  const open = useCallback(
    (sampleId: string) => {
      rememberWorkingList(rows);
      openOnBench(sampleId);
    },
    [rows, openOnBench],
  );
  const thisOne = useMemo(() => (current ? tempoAndKey(current) : null), [current]);
  const [above, below] = [rowAt(selected - 1), rowAt(selected + 1)];
  useEffect(() => {
    if (current) aim.prepare([current, below, above]);
  }, [aim, target, selected, current, below, above]);
  const intoBlend = usePutIntoBlend();
  const intoPack = usePutIntoPack();
  const inHand = () =>
    chosen.size > 0 ? chosen.targets.map(({ sampleId }) => sampleId) : held ? [held.sampleId] : [];
  useShelfKeys({
    ...{ total, held, setSelected, walk, aim, chosen, chooseAll, bulk, setPart },
    ...{ open, likeThis, thisOne },
    onEdit: () => setAside((now) => (now === 'search' ? 'this one' : 'search')),
    onTiles: () => setTiles((now) => !now),
    onPack: () => intoPack(inHand()),
    onBlend: () =>
      intoBlend(
        inHand().map((sampleId) => ({
          sampleId,
          name: held?.sampleId === sampleId ? held.name : 'one of them',
        })),
      ),
  });
  const blendOne = useCallback((row: SampleSummary) => intoBlend([row]), [intoBlend]);

  const one = (index: number) => {
    const row = rowAt(index);
    if (!row) return null;
    const Shown = isTiles ? ShelfTile : ShelfRow;
    return (
      <Shown
        key={row.sampleId}
        row={row}
        index={index}
        selected={index === selected}
        chosen={chosen.has(row.sampleId)}
        proposal={target.isOn ? proposalOfRow(row, aimOf(target)) : null}
        aim={aim}
        onSelect={select}
        onOpen={open}
        onBlend={blendOne}
      />
    );
  };
  return (
    <DropIntoBlend>
      <div className="relative flex h-full">
        <h1 className="sr-only">Shelf</h1>
        <aside
          aria-label="Search"
          className="flex w-64 shrink-0 flex-col border-r border-rule-strong bg-sheet"
        >
          <div
            role="tablist"
            aria-label="Beside the list"
            className="flex shrink-0 border-b border-rule-strong"
          >
            {ASIDES.map(({ value, label, keys }) => (
              <button
                key={value}
                type="button"
                role="tab"
                aria-selected={aside === value}
                title={keys}
                onMouseDown={keepKeysFree}
                className={clsx(
                  'flex-1 border-b-2 py-1.5 text-small',
                  aside === value
                    ? 'border-one font-semibold'
                    : 'border-transparent text-ink-soft hover:text-ink',
                )}
                onClick={() => setAside(value)}
              >
                {label}
              </button>
            ))}
          </div>
          <div className="min-h-0 flex-1 overflow-y-auto p-3">
            {aside === 'search' ? (
              <ShelfFilters view={view} onView={setView} counts={counts} targetKey={aimOf(target).key} />
            ) : current ? (
              <ThisOne key={current.sampleId} sampleId={current.sampleId} />
            ) : (
              <p className="text-small text-ink-soft">Choose a row: what it is tagged with stands here.</p>
            )}
          </div>
        </aside>
        <div className="flex min-w-0 flex-1 flex-col">
          <TargetBar thisOne={thisOne} />
          <div className="flex h-10 shrink-0 items-center justify-between border-b border-rule-strong px-4 text-small">
            <span role="status">
              {first?.more && 'more than '}
              <b className="figures">{total.toLocaleString('en')}</b> saved{' '}
              {total === 1 ? 'sample' : 'samples'}
              {first?.more && '; the first of them are listed'}
              <InsteadOf words={first?.insteadOf ?? []} />
            </span>
            {view.like && (
              <LikeBar
                sampleId={view.like}
                by={view.likeBy}
                onBy={(likeBy) => setView({ ...view, likeBy, sort: 'likeness', direction: 'up' })}
                onEnd={() => setView({ ...view, like: null, sort: 'saved', direction: 'down' })}
              />
            )}
            <IconButton
              className="ml-auto mr-2"
              label={isTiles ? 'As a list (G)' : 'As a grid of traces (G)'}
              pressed={isTiles}
              onClick={() => setTiles(!isTiles)}
            >
              <LayoutGrid aria-hidden />
            </IconButton>
            <label className="flex items-center gap-2 text-ink-soft">
              Order
              <select
                className={fieldClass}
                value={SORTS.findIndex(
                  ({ sort, direction }) => sort === view.sort && direction === view.direction,
                )}
                onChange={(event) => {
                  const { sort, direction } = SORTS[Number(event.target.value)];
                  setView({ ...view, sort, direction });
                }}
              >
                {SORTS.map(({ label, sort }, i) => (
                  <option
                    key={label}
                    value={i}
                    disabled={(sort === 'strain' && !target.isOn) || (sort === 'likeness' && !view.like)}
                  >
                    {label}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <div
            role={total > 0 ? 'grid' : 'group'}
            aria-label="Saved samples"
            aria-rowcount={total > 0 ? total : undefined}
            aria-activedescendant={current ? rowId(current.sampleId) : undefined}
            className="flex min-h-0 flex-1 flex-col overflow-x-auto"
          >
            <VirtualRows
              key={String(isTiles)}
              className={clsx('min-h-0 flex-1 overflow-y-auto', !isTiles && 'min-w-[61rem]')}
              label="Rows of saved samples"
              count={isTiles ? Math.ceil(total / TILES) : total}
              rowHeight={isTiles ? TILE_HEIGHT : ROW_HEIGHT}
              moves={moves}
              cursor={isTiles && selected >= 0 ? Math.floor(selected / TILES) : selected}
              onRange={isTiles ? (from, to) => onRange(from * TILES, (to + 1) * TILES - 1) : onRange}
              keyOf={isTiles ? String : (index) => rowAt(index)?.sampleId}
              row={(line) => {
                if (!isTiles) return one(line);
                const places = Array.from({ length: TILES }, (_, i) => line * TILES + i);
                return (
                  <div
                    role="row"
                    className="grid h-34"
                    style={{ gridTemplateColumns: `repeat(${TILES}, minmax(0, 1fr))` }}
                  >
                    {places.map((index) => one(index))}
                  </div>
                );
              }}
            >
              {total === 0 && !list.isPending && (
                <div className="mx-auto max-w-md p-12 text-center text-ink-soft">
                  {list.error ? (
                    <p className="text-one">{list.error.message}</p>
                  ) : JSON.stringify(view) === JSON.stringify(WHOLE_SHELF) ? (
                    <p>
                      Nothing is on the Shelf yet. Prove a sample on the Bench and save it; what the{' '}
                      <Link href="/intake" className="underline">
                        Intake
                      </Link>{' '}
                      holds waits for that.
                    </p>
                  ) : (
                    <p>Nothing saved matches this search.</p>
                  )}
                </div>
              )}
            </VirtualRows>
          </div>
          {(chosen.size > 1 || part || bulk.run) && (
            <BulkBar
              bulk={bulk}
              targets={targets}
              sample={current}
              where="shelf"
              part={part}
              onPart={setPart}
              onClear={chosen.clear}
            />
          )}
        </div>
      </div>
    </DropIntoBlend>
  );
}

const tempoAndKey = ({ tempoBpm, keyTonic: tonic, keyMode: mode }: SampleSummary) => ({
  tempoBpm,
  key: tonic !== null && mode !== null ? { tonic, mode } : null,
});
