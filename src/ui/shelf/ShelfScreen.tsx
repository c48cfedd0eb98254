'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Download } from 'lucide-react';
import Link from 'next/link';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/core/library/entry';
import type { SamplePage, ShelfQuery } from '@/core/library/shelfQuery';
import { originalUrl, taggedUrl } from '../api/samples';
import { fetchShelf, fetchShelfFacets } from '../api/shelf';
import { useOpenOnBench } from '../api/useEntry';
import { engine } from '../audio/engine';
import { fieldClass } from '../pieces/Field';
import { bpmText, KIND_TEXT, lengthText } from '../pieces/figures';
import { InsteadOf } from '../pieces/InsteadOf';
import { ProofMark } from '../pieces/ProofMark';
import { usePagedList } from '../pieces/usePagedList';
import { VirtualRows } from '../pieces/VirtualRows';
import { key, useKeys, type KeyAction } from '../shell/keys';
import { rememberWorkingList } from '../intake/workingList';
import { Thumbnail } from '../trace/Thumbnail';
import { ShelfFilters } from './ShelfFilters';
import { shelfParams, WHOLE_SHELF, type ShelfView } from './useShelfQuery';
import { keepKeysFree } from '../pieces/pressedByMouse';

const ROW_HEIGHT = 48;
const COLUMNS =
  'grid grid-cols-[8rem_minmax(10.5rem,1.4fr)_3.6rem_6.2rem_4.6rem_3.5rem_5rem_minmax(6.5rem,1fr)_6.2rem] gap-x-3 px-4';

const SORTS: { label: string; sort: ShelfQuery['sort']; direction: ShelfQuery['direction'] }[] = [
  { label: 'saved last', sort: 'saved', direction: 'down' },
  { label: 'name', sort: 'name', direction: 'up' },
  { label: 'slow to fast', sort: 'tempo', direction: 'up' },
  { label: 'fast to slow', sort: 'tempo', direction: 'down' },
  { label: 'key', sort: 'key', direction: 'up' },
  { label: 'short to long', sort: 'length', direction: 'up' },
  { label: 'best rated', sort: 'rating', direction: 'down' },
];

/** Saved samples: search, walk along and hear them at once, take them away. */
export function ShelfScreen() {
  const openOnBench = useOpenOnBench();
  const [view, setView] = useState<ShelfView>(WHOLE_SHELF);
  const asked = useDeferredValue(view);
  const list = usePagedList<SampleSummary, SamplePage>({
    queryKey: ['shelf', asked],
    fetchPage: (page, signal) => fetchShelf(shelfParams(asked, page), signal),
  });
  const { rows, rowAt, total, first, onRange, selected, setSelected, walk } = list;
  const { data: counts } = useQuery({
    queryKey: ['shelf', 'facets', { ...asked, sort: null, direction: null }],
    queryFn: ({ signal }) => fetchShelfFacets(shelfParams(asked, {}), signal),
    placeholderData: keepPreviousData,
  });
  useEffect(() => () => engine.stop(), []);

  const open = useCallback(
    (sampleId: string) => {
      rememberWorkingList(rows);
      openOnBench(sampleId);
    },
    [rows, openOnBench],
  );
  const current = rowAt(selected);
  useKeys(
    useMemo<KeyAction[]>(() => {
      const group = 'Shelf';
      const step = (by: number) => () => {
        const next = rowAt(Math.max(0, Math.min(total - 1, selected < 0 && by > 0 ? 0 : selected + by)));
        walk(by);
        if (next) void engine.playAlone(next.sampleId, 0, next.durationSeconds);
      };
      return [
        { keys: '↓', does: 'Next row, played at once', group, matches: key('ArrowDown'), run: step(1) },
        { keys: '↑', does: 'Previous row, played at once', group, matches: key('ArrowUp'), run: step(-1) },
        {
          keys: 'Space',
          does: 'Play the row, or stop',
          group,
          matches: key('Space'),
          run: () => current && engine.toggleAlone(current.sampleId, current.durationSeconds),
        },
        {
          keys: 'Enter',
          does: 'Open on the Bench',
          group,
          matches: key('Enter'),
          run: () => current && open(current.sampleId),
        },
      ];
    }, [rowAt, total, selected, current, walk, open]),
  );

  return (
    <div className="flex h-full">
      <h1 className="sr-only">Shelf</h1>
      <aside
        aria-label="Search"
        className="w-64 shrink-0 overflow-y-auto border-r border-rule-strong bg-sheet p-3"
      >
        <ShelfFilters view={view} onView={setView} counts={counts} />
      </aside>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex h-10 shrink-0 items-center justify-between border-b border-rule-strong px-4 text-small">
          <span role="status">
            {first?.more && 'more than '}
            <b className="figures">{total.toLocaleString('en')}</b> saved {total === 1 ? 'sample' : 'samples'}
            {first?.more && '; the first of them are listed'}
            <InsteadOf words={first?.insteadOf ?? []} />
          </span>
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
              {SORTS.map(({ label }, i) => (
                <option key={label} value={i}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        </div>
        <div
          role="grid"
          aria-label="Saved samples"
          aria-rowcount={total}
          className="flex min-h-0 flex-1 flex-col"
        >
          <VirtualRows
            className="min-h-0 flex-1 overflow-y-auto"
            count={total}
            rowHeight={ROW_HEIGHT}
            cursor={selected}
            onRange={onRange}
            row={(index) => {
              const row = rowAt(index);
              return (
                row && (
                  <ShelfRow
                    row={row}
                    index={index}
                    selected={index === selected}
                    onSelect={() => setSelected(index)}
                    onOpen={() => open(row.sampleId)}
                  />
                )
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
      </div>
    </div>
  );
}

interface RowProps {
  row: SampleSummary;
  index: number;
  selected: boolean;
  onSelect: () => void;
  onOpen: () => void;
}

const ShelfRow = memo(function ShelfRow({ row, index, selected, onSelect, onOpen }: RowProps) {
  const { keyTonic, keyMode } = row;
  const link = 'inline-flex items-center gap-1 underline-offset-2 hover:underline';
  return (
    <div
      role="row"
      aria-rowindex={index + 1}
      aria-selected={selected}
      onClick={onSelect}
      onDoubleClick={onOpen}
      className={clsx(
        COLUMNS,
        'h-12 items-center border-b border-rule text-small',
        selected ? 'bg-wash-ink shadow-[inset_3px_0_0_var(--one)]' : 'hover:bg-sheet',
      )}
    >
      <div role="gridcell">
        <Thumbnail
          sampleId={row.sampleId}
          thumbnail={row.thumbnail}
          durationSeconds={row.durationSeconds}
          name={row.name}
        />
      </div>
      <div role="gridcell" className="min-w-0">
        <button
          type="button"
          onMouseDown={keepKeysFree}
          tabIndex={-1}
          className="block max-w-full truncate text-base font-medium hover:underline"
          onClick={onOpen}
        >
          {row.name}
        </button>
        <div className="truncate text-tiny text-ink-soft">{row.folder || ' '}</div>
      </div>
      <div role="gridcell">{row.kind ? KIND_TEXT[row.kind] : ''}</div>
      <div role="gridcell" className="figures text-right">
        {row.tempoBpm !== null && (
          <>
            <b className="text-base font-semibold">{bpmText(row.tempoBpm)}</b>{' '}
            <span className="text-ink-soft">BPM</span>
          </>
        )}
      </div>
      <div role="gridcell" className="font-medium">
        {keyTonic !== null && keyMode !== null ? (
          keyLabel({ tonic: keyTonic, mode: keyMode })
        ) : (
          <span className="text-ink-soft">no key</span>
        )}
      </div>
      <div role="gridcell" className="figures text-right">
        {row.durationSeconds !== null && lengthText(row.durationSeconds)}
      </div>
      <div role="gridcell">
        <ProofMark proof={row.proof} tempoBpm={row.tempoBpm} />
      </div>
      <div role="gridcell" className="line-clamp-2 leading-tight text-ink-soft">
        {row.rating !== null && <span className="figures text-ink">{row.rating}/5 </span>}
        {row.tags.map(({ value }) => value).join(', ')}
      </div>
      <div role="gridcell" className="flex flex-col text-tiny">
        <a className={link} href={taggedUrl(row.sampleId)} download aria-label={`Tagged copy of ${row.name}`}>
          <Download className="size-3" aria-hidden /> tagged copy
        </a>
        <a className={link} href={originalUrl(row.sampleId)} download aria-label={`Original of ${row.name}`}>
          <Download className="size-3" aria-hidden /> original
        </a>
      </div>
    </div>
  );
});
