'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { ArrowDown, ArrowUp, Search } from 'lucide-react';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import type { SampleSummary } from '@/contract/entry';
import { intakeQuery, type IntakeQuery, type SamplePage } from '@/contract/shelfQuery';
import { fetchIntake, fetchIntakeCounts, fetchTargets } from '../../api/intake';
import { preferInSight } from '../../api/tasks';
import { entryQuery, useOpenOnBench } from '../../api/useEntry';
import { Button } from '../../pieces/Button';
import { fieldClass, TextField } from '../../pieces/Field';
import { KIND_TEXT } from '../../pieces/figures';
import { keepKeysFree } from '../../pieces/pressedByMouse';
import { paramsBeside, useAddressed } from '../../pieces/useAddressed';
import { usePagedList } from '../../pieces/usePagedList';
import { VirtualRows } from '../../pieces/VirtualRows';
import { InsteadOf } from '../../pieces/InsteadOf';
import { useStable } from '../../pieces/useStable';
import { character, key, useKeys, type KeyAction } from '../../shell/keys';
import { rememberWorkingList } from '../../pieces/workingList';
import { rowId } from '../../pieces/rowGestures';
import { BinPanel } from './BinPanel';
import { ArrivalRow, COLUMNS } from './ArrivalRow';
import { BulkBar, type BulkPart } from '../../bulk/BulkBar';
import { FiguresProof } from './FiguresProof';
import { Hand } from './Hand';
import { useBulk } from '../../bulk/useBulk';
import { targetOf, useChoosing } from '../../bulk/useChosen';
import { Reasons } from './Reasons';
import { useHands } from './useHands';

type View = Pick<IntakeQuery, 'show' | 'text' | 'sort' | 'direction' | 'kind'>;

const SHOW: { value: IntakeQuery['show']; label: string }[] = [
  { value: 'all', label: 'All' },
  { value: 'needs a look', label: 'Needs a look' },
  { value: 'to do', label: 'To do' },
  { value: 'sure', label: 'Sure' },
  { value: 'measuring', label: 'Being measured' },
  { value: 'faulty', label: 'Cannot be read' },
  { value: 'saved', label: 'Saved' },
  { value: 'bin', label: 'Bin' },
];

const HEADS: { label: string; sort: IntakeQuery['sort'] | null; right?: boolean }[] = [
  { label: 'Arrived', sort: 'arrived' },
  { label: 'Name', sort: 'name' },
  { label: 'Kind', sort: 'kind' },
  { label: 'Length', sort: 'length', right: true },
  { label: 'BPM', sort: 'tempo', right: true },
  { label: 'Bars', sort: null, right: true },
  { label: 'Key', sort: 'key' },
  { label: 'Sure', sort: null, right: true },
  { label: 'Standing', sort: 'standing' },
  { label: 'Uncertain, to do', sort: 'need' },
];

/** As the list was left: whoever comes back from the Bench goes on where they were. */
const WHOLE: View = { show: 'all', text: '', sort: 'need', direction: 'down', kind: '' };
let lastView: View = WHOLE;
const viewSchema = intakeQuery.pick({ show: true, text: true, sort: true, direction: true, kind: true });
const IN_ADDRESS = {
  names: Object.keys(viewSchema.shape),
  read: (params: URLSearchParams): View | null => {
    if (!Object.keys(viewSchema.shape).some((name) => params.has(name))) return null;
    const view = viewSchema.safeParse(Object.fromEntries(params));
    return view.success ? view.data : null;
  },
  write: (view: View) => paramsBeside(view, WHOLE),
};

const ROW_HEIGHT = 44;
/** Narrower than all columns the list is pushed sideways. */
const LEAST_WIDTH = 'min-w-[72rem]';
const NO_COUNTS: Record<string, number> = {};
const GROUP = 'Intake';

export function ArrivalsScreen() {
  const [view, setView] = useAddressed<View>(() => lastView, IN_ADDRESS);
  useEffect(() => void (lastView = view), [view]);
  const asked = useDeferredValue(view);
  const list = usePagedList<SampleSummary, SamplePage>({
    queryKey: ['intake', asked],
    fetchPage: (page, signal) => fetchIntake(paramsOf(asked, page), signal),
  });
  const { rows, rowAt, total, first, onRange, selected, held, moves, setSelected, walk } = list;
  const { data: counts = NO_COUNTS } = useQuery({
    queryKey: ['intake', 'counts', asked.text, asked.kind],
    queryFn: ({ signal }) => fetchIntakeCounts(paramsOf(asked, {}), signal),
    placeholderData: keepPreviousData,
  });
  const { chosen, current, targets, select, chooseAll } = useChoosing({
    ...{ rowAt, total, selected, held, setSelected },
    all: () => fetchTargets(paramsOf(asked, {})),
  });
  const bulk = useBulk();
  const [part, setPart] = useState<BulkPart | null>(null);

  const { data: entry = null } = useQuery({
    ...entryQuery(current?.sampleId ?? ''),
    enabled: current !== null,
  });

  const openOnBench = useOpenOnBench();
  const open = useStable((sampleId: string) => {
    rememberWorkingList(rows);
    openOnBench(sampleId);
  });
  const hands = useHands({ row: current, entry, targets, bulk, open, next: () => walk(1) });

  const onRest = useStable((from: number, to: number) => {
    const waiting: string[] = [];
    for (let index = from; index <= to; index++) {
      const row = rowAt(index);
      if (row?.measuring?.state === 'waiting') waiting.push(row.sampleId);
    }
    if (waiting.length > 0) void preferInSight(waiting).catch(() => {});
  });

  useKeys(
    useMemo<KeyAction[]>(() => {
      const extend = (by: number) => () => {
        const next = rowAt(Math.max(0, Math.min(total - 1, selected + by)));
        chosen.add([current, next].flatMap((row) => (row ? [targetOf(row)] : [])));
        walk(by);
      };
      const action = (
        keys: string,
        does: string,
        matches: KeyAction['matches'],
        run: () => void,
      ): KeyAction => ({ keys, does, group: GROUP, matches, run });
      return [
        action('↓', 'Next row', key('ArrowDown'), () => walk(1)),
        action('↑', 'Previous row', key('ArrowUp'), () => walk(-1)),
        action('Page ↓', 'Ten rows on', key('PageDown'), () => walk(10)),
        action('Page ↑', 'Ten rows back', key('PageUp'), () => walk(-10)),
        action('Home', 'First row', key('Home'), () => setSelected(0)),
        action('End', 'Last row', key('End'), () => setSelected(total - 1)),
        action('Shift + ↓ ↑', 'Choose rows together', key('Shift+ArrowDown'), extend(1)),
        action('', '', key('Shift+ArrowUp'), extend(-1)),
        action(
          'X',
          'Choose this row with others, or not',
          character('x'),
          () => current && chosen.toggle(targetOf(current)),
        ),
        action('Ctrl + A', 'Choose all that are listed', key('Ctrl+KeyA'), () => void chooseAll()),
        action('Esc', 'Choose none', key('Escape'), () => chosen.clear()),
        action('Space', 'Play the row, or stop', key('Space'), hands.play),
        action('C', 'Play with click from the one, or stop', character('c'), hands.playWithClick),
        action('V', 'Play at the target, or stop', character('v'), hands.playAtTarget),
        action('A', 'Accept what is settled', character('a'), hands.accept),
        action('H', 'Half the tempo', character('h'), () => hands.scale(0.5)),
        action('D', 'Double the tempo', character('d'), () => hands.scale(2)),
        action('Enter', 'Open on the Bench', key('Enter'), hands.open),
        action('M', 'Measure again …', character('m'), () => targets.length > 0 && setPart('measure')),
        action('T', 'Tags …', character('t'), () => targets.length > 0 && setPart('tags')),
        action('N', 'Rename by a template …', character('n'), () => targets.length > 0 && setPart('rename')),
        action('J', 'Join as stems …', character('j'), () => targets.length > 1 && setPart('join')),
        action('Delete', 'Put into the bin, or restore from it', key('Delete'), () => {
          void bulk.perform({ do: view.show === 'bin' ? 'restore' : 'bin' }, targets);
          if (chosen.size === 0) walk(1);
          chosen.clear();
        }),
        action('Ctrl + Z', 'Take the last step back', key('Ctrl+KeyZ'), () => void bulk.undo()),
      ];
    }, [
      walk,
      setSelected,
      rowAt,
      total,
      selected,
      chosen,
      current,
      chooseAll,
      hands,
      targets,
      bulk,
      view.show,
    ]),
  );

  const sortBy = (next: IntakeQuery['sort']) => {
    const down = next === 'arrived' || next === 'need' || next === 'standing';
    setView({
      ...view,
      sort: next,
      direction: next === view.sort ? (view.direction === 'down' ? 'up' : 'down') : down ? 'down' : 'up',
    });
  };
  const show = (value: IntakeQuery['show']) => {
    chosen.clear();
    setView({ ...view, show: value });
  };

  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-4 py-1.5">
        <div role="group" aria-label="Show" className="flex flex-wrap gap-1">
          {SHOW.map(({ value, label }) => (
            <Button key={value} pressed={view.show === value} onClick={() => show(value)}>
              {label} <span className="figures font-normal text-ink-soft">{counts[value] ?? 0}</span>
            </Button>
          ))}
        </div>
        <select
          aria-label="Kind"
          className={clsx(fieldClass, 'ml-auto')}
          value={view.kind}
          onChange={(event) => setView({ ...view, kind: event.target.value as View['kind'] })}
        >
          <option value="">any kind</option>
          {Object.entries(KIND_TEXT).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <label className="relative">
          <span className="sr-only">Search the Intake</span>
          <Search className="pointer-events-none absolute left-2 top-1.5 size-4 text-ink-soft" aria-hidden />
          <TextField
            className="w-40 pl-7"
            type="search"
            placeholder="name, folder, tag"
            value={view.text}
            onChange={(event) => setView({ ...view, text: event.target.value })}
          />
        </label>
        <FiguresProof text={asked.text} kind={asked.kind} />
      </div>
      {first && (first.more || first.insteadOf.length > 0) && (
        <p role="status" className="border-b border-rule px-4 py-0.5 text-tiny text-ink-soft">
          {first.more && `More than ${total.toLocaleString('en')} match; the first of them are listed.`}
          <InsteadOf words={first.insteadOf} />
        </p>
      )}
      <Reasons counts={counts} shown={view.show} onShow={show} />
      {view.show === 'bin' && <BinPanel selected={targets.map(({ sampleId }) => sampleId)} />}
      <div
        role="grid"
        aria-label="Arrivals"
        aria-rowcount={total + 1}
        aria-multiselectable
        aria-activedescendant={current ? rowId(current.sampleId) : undefined}
        className="flex min-h-0 flex-1 flex-col overflow-x-auto"
      >
        <div
          role="row"
          className={clsx(
            COLUMNS,
            LEAST_WIDTH,
            'h-7 shrink-0 items-center border-b border-rule-strong text-tiny text-ink-soft',
          )}
        >
          {HEADS.map(({ label, sort: by, right }) => (
            <div
              key={label}
              role="columnheader"
              aria-sort={
                by === view.sort ? (view.direction === 'up' ? 'ascending' : 'descending') : undefined
              }
              className={clsx(right && 'text-right')}
            >
              {by ? (
                <button
                  type="button"
                  onMouseDown={keepKeysFree}
                  className={clsx(
                    'inline-flex items-center gap-0.5 hover:text-ink',
                    by === view.sort && 'font-semibold text-ink',
                  )}
                  onClick={() => sortBy(by)}
                >
                  {label}
                  {by === view.sort &&
                    (view.direction === 'up' ? (
                      <ArrowUp className="size-3" aria-hidden />
                    ) : (
                      <ArrowDown className="size-3" aria-hidden />
                    ))}
                </button>
              ) : (
                label
              )}
            </div>
          ))}
        </div>
        <VirtualRows
          className={clsx('min-h-0 flex-1 overflow-y-scroll', LEAST_WIDTH)}
          label="Rows of arrivals"
          count={total}
          rowHeight={ROW_HEIGHT}
          cursor={selected}
          moves={moves}
          onRange={onRange}
          onRest={onRest}
          keyOf={(index) => rowAt(index)?.sampleId}
          row={(index, isScrolling) => {
            const row = rowAt(index);
            if (!row) return <div className="mx-4 h-11 border-b border-rule" />;
            return (
              <ArrivalRow
                row={row}
                index={index}
                selected={index === selected}
                chosen={chosen.has(row.sampleId)}
                sketchy={isScrolling}
                onSelect={select}
                onOpen={open}
              />
            );
          }}
        >
          {total === 0 && (
            <Nothing
              loading={list.isPending}
              error={list.error}
              filtered={view.show !== 'all' || view.text !== '' || view.kind !== ''}
            />
          )}
        </VirtualRows>
      </div>
      {(chosen.size > 1 || part || bulk.run) && (
        <BulkBar
          bulk={bulk}
          targets={targets}
          sample={current}
          where={view.show === 'bin' ? 'bin' : 'intake'}
          part={part}
          onPart={setPart}
          onClear={chosen.clear}
        />
      )}
      {current && chosen.size <= 1 && <Hand row={current} entry={entry} hands={hands} />}
    </div>
  );
}

function paramsOf(view: View, page: Partial<Pick<IntakeQuery, 'offset' | 'limit' | 'of'>>): URLSearchParams {
  const params = new URLSearchParams(view);
  for (const [name, value] of Object.entries(page)) if (value !== null) params.set(name, String(value));
  return params;
}

function Nothing({ loading, error, filtered }: { loading: boolean; error: Error | null; filtered: boolean }) {
  if (loading) return <p className="p-10 text-center text-ink-soft">Fetching the list …</p>;
  if (error) return <p className="p-10 text-center text-one">{error.message}</p>;
  if (filtered)
    return (
      <p className="p-10 text-center text-ink-soft">
        Nothing here matches. Choose “All” or empty the search field.
      </p>
    );
  return (
    <div className="mx-auto max-w-md p-12 text-center">
      <p className="text-lg font-semibold">Nothing has been taken in yet.</p>
      <p className="mt-2 text-ink-soft">
        Drop files, whole folders or a ZIP here: WAV, AIFF, FLAC, MP3, Ogg, Opus, MP4 and MIDI files. They are
        measured at once; the files themselves are kept exactly as they are.
      </p>
    </div>
  );
}
