'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import type { SampleSummary } from '@/contract/entry';
import type { IntakeQuery, SamplePage } from '@/contract/shelfQuery';
import { fetchIntake, fetchIntakeCounts, fetchTargets } from '../../api/intake';
import { preferInSight } from '../../api/tasks';
import { entryQuery, useOpenOnBench } from '../../api/useEntry';
import { BulkBar, type BulkPart } from '../../bulk/BulkBar';
import { useBulk } from '../../bulk/useBulk';
import { Awaited, Empty } from '../../kit/States';
import { useAddressed } from '../../kit/useAddressed';
import { useStable } from '../../kit/useStable';
import { openAsCut } from '../../family/cutDrafts';
import { OlderEngine } from './OlderEngine';
import { ErrorsLeft } from '../../list/ErrorsLeft';
import { InsteadOf } from '../../list/InsteadOf';
import { returnTo, useReturning } from '../../list/returning';
import { SampleList } from '../../list/SampleList';
import { useListKeys } from '../../list/useListKeys';
import { usePagedList } from '../../list/usePagedList';
import { useSelection } from '../../list/useSelection';
import { rememberWorkingList } from '../../list/workingList';
import { useTakesInHand } from '../../target/sampleInHand';
import { aimOf, useTarget } from '../../target/target';
import { useAim } from '../../target/useAim';
import { arrivalColumns } from './arrivalColumns';
import { BinPanel } from './BinPanel';
import { EmptyLibrary } from './EmptyLibrary';
import { IntakeFilters } from './IntakeFilters';
import {
  guessedShown,
  IN_ADDRESS,
  leastCertain,
  paramsOf,
  sortedBy,
  WHOLE,
  type IntakeView,
} from './intakeView';
import { NewArrivals, useNewArrivals } from './NewArrivals';
import { Reasons } from './Reasons';
import { RowDetails } from './RowDetails';
import { useIntakeKeys } from './useIntakeKeys';
import { useRowActions } from './useRowActions';

/** As the list was left: whoever comes back from the Bench finds it so. */
let lastView: IntakeView = WHOLE;
const NO_COUNTS: Record<string, number> = {};

/** Everything that was imported: what is uncertain first, with what can be done about it. */
export function ArrivalsScreen() {
  const [view, setView] = useAddressed<IntakeView>(() => lastView, IN_ADDRESS);
  useEffect(() => void (lastView = view), [view]);
  const asked = useDeferredValue(view);
  const list = usePagedList<SampleSummary, SamplePage>({
    queryKey: ['intake', asked],
    fetchPage: (page, signal) => fetchIntake(paramsOf(asked, page), signal),
  });
  const { rows, rowAt, total, first, cursor } = list;
  const { data: counts = NO_COUNTS } = useQuery({
    queryKey: ['intake', 'counts', asked.text, asked.kind],
    queryFn: ({ signal }) => fetchIntakeCounts(paramsOf(asked), signal),
    placeholderData: keepPreviousData,
  });
  const selection = useSelection(list, () => fetchTargets(paramsOf(asked)));
  const { targets } = selection;
  const bulk = useBulk('intake');
  const [part, setPart] = useState<BulkPart | null>(null);
  const current = cursor.row;
  const { data: entry = null } = useQuery({
    ...entryQuery(current?.sampleId ?? ''),
    enabled: current !== null,
  });

  const openOnBench = useOpenOnBench();
  const open = useStable((sampleId: string) => {
    rememberWorkingList(rows);
    returnTo('intake', sampleId);
    openOnBench(sampleId);
  });
  const aim = useAim();
  useReturning('intake', list);
  const news = useNewArrivals();
  const openNew = (sampleId: string) => {
    news.dismiss();
    open(sampleId);
  };
  useTakesInHand(current, aim);
  const target = useTarget();
  const actions = useRowActions({
    row: current,
    entry,
    targets,
    bulk,
    aim,
    open,
    next: () => cursor.step(1),
  });
  const isBin = view.show === 'bin';
  useListKeys({
    ...{ list, selection },
    // Without a target the list is read; with one it is listened through.
    ...(target.isOn && { onStep: (row: SampleSummary) => void aim.play(row) }),
    onPlay: actions.play,
    onOpen: actions.open,
    onCut: ({ sampleId }) => {
      openAsCut(sampleId);
      open(sampleId);
    },
    onOpenNone: () => news.arrived.length > 0 && openNew(news.arrived[0].sampleId),
  });
  useIntakeKeys({ list, selection, actions, bulk, setPart, isBin });
  const at = useMemo(() => (target.isOn ? aimOf(target) : null), [target]);
  const columns = useMemo(() => arrivalColumns(open, at), [open, at]);

  /** Those in sight are measured first. */
  const onRest = useStable((from: number, to: number) => {
    const waiting: string[] = [];
    for (let index = from; index <= to; index++) {
      const row = rowAt(index);
      if (row?.measuring?.state === 'waiting') waiting.push(row.sampleId);
    }
    if (waiting.length > 0) void preferInSight(waiting).catch(() => {});
  });
  const show = (value: IntakeQuery['show']) => {
    selection.clear();
    setView({ ...view, show: value });
  };
  const isWhole = view.show === 'all' && view.text === '' && view.kind === '';

  return (
    <div className="flex h-full flex-col">
      <IntakeFilters
        view={view}
        counts={counts}
        onView={(patch) => setView({ ...view, ...patch })}
        onShow={show}
      />
      <NewArrivals
        {...news}
        onOpen={openNew}
        onShow={() => {
          news.dismiss();
          selection.clear();
          setView({ ...WHOLE, sort: 'arrived' });
        }}
      />
      {first && (first.more || first.insteadOf.length > 0) && (
        <p role="status" className="border-b border-rule px-4 py-0.5 text-tiny text-ink-soft">
          {first.more && `More than ${total.toLocaleString('en')} match; the first are listed.`}
          <InsteadOf words={first.insteadOf} />
        </p>
      )}
      <div className="flex shrink-0 flex-wrap items-center justify-between gap-x-6 border-b border-rule px-4 not-empty:min-h-7 empty:hidden">
        <Reasons counts={counts} shown={view.show} onShow={show} />
        <OlderEngine />
        <ErrorsLeft
          of="all"
          listed={guessedShown(view)}
          onList={(guessed) => {
            selection.clear();
            setView(view.show === `measured ${guessed}` ? WHOLE : leastCertain(guessed));
          }}
        />
      </div>
      {isBin && <BinPanel selected={targets.map(({ sampleId }) => sampleId)} />}
      <SampleList
        name="intake"
        label="Arrivals"
        {...{ list, columns, selection, onRest }}
        rowHeight={44}
        leastWidth="min-w-[72rem]"
        sorting={{
          by: view.sort,
          direction: view.direction,
          onSort: (by) => setView(sortedBy(view, by as IntakeQuery['sort'])),
        }}
        onOpen={open}
        empty={
          list.isPending || list.error ? (
            <Awaited of={list} what="samples" />
          ) : isWhole ? (
            <EmptyLibrary />
          ) : (
            <Empty>No samples match. Select “All” or clear the search.</Empty>
          )
        }
      />
      {(selection.size > 1 || part || bulk.run) && (
        <BulkBar
          {...{ bulk, targets, part }}
          sample={current}
          where={isBin ? 'bin' : 'intake'}
          onPart={setPart}
          onClear={selection.clear}
        />
      )}
      {current && selection.size <= 1 && <RowDetails row={current} entry={entry} actions={actions} />}
    </div>
  );
}
