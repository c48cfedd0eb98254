'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Download } from 'lucide-react';
import Link from 'next/link';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { proposalOfRow } from '@/core/fit/aims';
import type { Proposal } from '@/core/fit/proposal';
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
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { rememberWorkingList } from '../intake/workingList';
import { levelSign, proposalSentence, semitonesText, timesText } from '../target/proposalWords';
import { aimOf, useTarget } from '../target/target';
import { TargetBar, targetKeys } from '../target/TargetBar';
import { useAim, type Aim } from '../target/useAim';
import { Thumbnail } from '../trace/Thumbnail';
import { LikeBar } from './LikeBar';
import { ShelfFilters } from './ShelfFilters';
import { askedOf, shelfParams, WHOLE_SHELF, type ShelfView } from './useShelfQuery';
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
  { label: 'least strain', sort: 'strain', direction: 'up' },
  { label: 'likeness', sort: 'likeness', direction: 'up' },
];

const likeTo = (view: ShelfView, sampleId: string): ShelfView => ({
  ...view,
  ...{ like: sampleId, sort: 'likeness', direction: 'up' },
});

/** Saved samples: search, walk along and hear them at once, take them away. */
export function ShelfScreen({ like }: { like: string | null }) {
  const openOnBench = useOpenOnBench();
  const [view, setView] = useState<ShelfView>(like ? likeTo(WHOLE_SHELF, like) : WHOLE_SHELF);
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
  const { rows, rowAt, total, first, onRange, selected, setSelected, walk } = list;
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

  const open = useCallback(
    (sampleId: string) => {
      rememberWorkingList(rows);
      openOnBench(sampleId);
    },
    [rows, openOnBench],
  );
  const current = rowAt(selected);
  const thisOne = useMemo(() => (current ? tempoAndKey(current) : null), [current]);
  const [above, below] = [rowAt(selected - 1), rowAt(selected + 1)];
  useEffect(() => {
    if (selected >= 0) aim.prepare([current, below, above]);
  }, [aim, target, selected, current, below, above]);
  useKeys(
    useMemo<KeyAction[]>(() => {
      const group = 'Shelf';
      const step =
        (by: number, keepsOthers = false) =>
        () => {
          const next = rowAt(Math.max(0, Math.min(total - 1, selected < 0 && by > 0 ? 0 : selected + by)));
          walk(by);
          if (next) void aim.play(next, 0, keepsOthers);
        };
      return [
        { keys: '↓', does: 'Next row, played at once', group, matches: key('ArrowDown'), run: step(1) },
        { keys: '↑', does: 'Previous row, played at once', group, matches: key('ArrowUp'), run: step(-1) },
        {
          keys: 'Shift + ↓',
          does: 'Next row, beside what sounds',
          group,
          matches: key('Shift+ArrowDown'),
          run: step(1, true),
        },
        {
          keys: 'Shift + ↑',
          does: 'Previous row, beside what sounds',
          group,
          matches: key('Shift+ArrowUp'),
          run: step(-1, true),
        },
        {
          keys: 'Space',
          does: 'Play the row, or stop',
          group,
          matches: key('Space'),
          run: () => current && aim.toggle(current),
        },
        {
          keys: 'Enter',
          does: 'Open on the Bench',
          group,
          matches: key('Enter'),
          run: () => current && open(current.sampleId),
        },
        {
          keys: 'L',
          does: 'Those that are like this one',
          group,
          matches: character('l'),
          run: () => current && likeThis(current.sampleId),
        },
        ...targetKeys(() => thisOne),
      ];
    }, [rowAt, total, selected, current, thisOne, walk, open, aim, likeThis]),
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
        <TargetBar thisOne={thisOne} />
        <div className="flex h-10 shrink-0 items-center justify-between border-b border-rule-strong px-4 text-small">
          <span role="status">
            {first?.more && 'more than '}
            <b className="figures">{total.toLocaleString('en')}</b> saved {total === 1 ? 'sample' : 'samples'}
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
                    proposal={target.isOn ? proposalOfRow(row, aimOf(target)) : null}
                    aim={aim}
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
  /** What the target does to it; null while that is off. */
  proposal: Proposal | null;
  aim: Aim;
  onSelect: () => void;
  onOpen: () => void;
}

const ShelfRow = memo(function ShelfRow({ row, index, selected, proposal, aim, onSelect, onOpen }: RowProps) {
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
          onPlay={(from) => aim.toggle(row, from)}
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
        {proposal && <Becomes>{tempoBecomes(proposal)}</Becomes>}
      </div>
      <div role="gridcell" className="font-medium">
        {keyTonic !== null && keyMode !== null ? (
          keyLabel({ tonic: keyTonic, mode: keyMode })
        ) : (
          <span className="text-ink-soft">no key</span>
        )}
        {proposal && <Becomes>{keyBecomes(proposal)}</Becomes>}
      </div>
      <div role="gridcell" className="figures text-right">
        {row.durationSeconds !== null && lengthText(row.durationSeconds)}
        {proposal && <Becomes>{proposal.bars !== null && barsText(proposal.bars)}</Becomes>}
      </div>
      <div role="gridcell">
        <ProofMark proof={row.proof} tempoBpm={row.tempoBpm} />
        {proposal && <Strain proposal={proposal} />}
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

const tempoAndKey = ({ tempoBpm, keyTonic: tonic, keyMode: mode }: SampleSummary) => ({
  tempoBpm,
  key: tonic !== null && mode !== null ? { tonic, mode } : null,
});

/** What the target makes of a figure, under it. */
function Becomes({ children }: { children: React.ReactNode }) {
  return <div className="figures text-tiny font-normal text-trace">{children || ' '}</div>;
}

function tempoBecomes(proposal: Proposal): string {
  if (proposal.ratio === 1 && proposal.tempoBpm === null) return '';
  const sign = levelSign(proposal);
  return `${sign ? `${sign}  ` : ''}${timesText(proposal.ratio)}`;
}

function keyBecomes({ semitones, becomes, otherWay }: Proposal): string {
  if (semitones === 0 && !becomes) return '';
  return otherWay === null
    ? semitonesText(semitones)
    : `${semitonesText(semitones)} or ${semitonesText(otherWay)}`;
}

const barsText = (bars: number) => `${bars} ${bars === 1 ? 'bar' : 'bars'}`;

/** A scale that is as full as the sample is bent, and the word for it. */
function Strain({ proposal }: { proposal: Proposal }) {
  const { strain, word } = proposal;
  const share = Math.min(1, strain / 2);
  return (
    <div
      role="img"
      aria-label={`Strain ${strain.toFixed(2)}, ${word}`}
      title={proposalSentence(proposal)}
      className="flex items-center gap-1.5 text-tiny"
    >
      <span className="relative h-1.5 w-8 border border-rule-strong">
        <span
          className={clsx(
            'absolute inset-y-0 left-0',
            strain > 1.8 ? 'bg-one' : strain > 0.85 ? 'bg-look' : 'bg-trace',
          )}
          style={{ width: `${share * 100}%` }}
        />
      </span>
      {word}
    </div>
  );
}
