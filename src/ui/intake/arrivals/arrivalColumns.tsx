'use client';
import clsx from 'clsx';
import { ListTodo, TriangleAlert, type LucideIcon } from 'lucide-react';
import type { SampleSummary } from '@/contract/entry';
import type { Target } from '@/core/timeStretch/proposal';
import { allDoubtWords } from '@/words/doubts';
import { bpmText, keyOfRow, KIND_TEXT, lengthText, percentText } from '@/words/figures';
import { stopMeasuring } from '../../api/samples';
import { Progress } from '../../kit/Progress';
import { tell } from '../../kit/useAction';
import { RowName, RowTrace } from '../../list/cells';
import { StatusMark } from '../../list/StatusMark';
import type { Column } from '../../list/useColumns';
import { KeyAtTarget, TempoAtTarget } from '../../target/Becomes';

/** The columns of the Intake. `open` opens a sample on the Bench; `target`: what is played at, null while it is off. */
export const arrivalColumns = (
  open: (sampleId: string) => void,
  target: Target | null,
): Column<SampleSummary>[] => [
  {
    ...{ id: 'trace', label: 'Arrived', width: '8.5rem', sort: 'arrived', isFixed: true },
    cell: (row, _, isDrawn) => (isDrawn ? <RowTrace row={row} /> : <div className="h-8 bg-sunk/50" />),
  },
  {
    ...{ id: 'name', label: 'Name', width: 'minmax(13rem, 1.25fr)', sort: 'name', isFixed: true },
    cell: (row) => <ArrivalName row={row} onOpen={open} />,
  },
  {
    ...{ id: 'kind', label: 'Kind', width: '4rem', sort: 'kind' },
    cell: ({ kind }) => (kind ? KIND_TEXT[kind] : '–'),
  },
  {
    ...{ id: 'length', label: 'Length', width: '4rem', sort: 'length', isRight: true },
    cell: ({ durationSeconds }) => (durationSeconds === null ? '–' : lengthText(durationSeconds)),
  },
  {
    ...{ id: 'tempo', label: 'BPM', width: target ? '8.5rem' : '4.5rem', sort: 'tempo', isRight: true },
    cell: (row) => {
      const { tempoBpm, steady } = row;
      if (tempoBpm === null) return '–';
      return (
        <>
          {steady === false && <span title="average of a changing tempo">~</span>}
          <b className="font-semibold">{bpmText(Math.round(tempoBpm * 100) / 100)}</b>
          {target && <TempoAtTarget row={row} target={target} />}
        </>
      );
    },
  },
  {
    ...{ id: 'bars', label: 'Bars', width: '5rem', isRight: true },
    cell: ({ tempoBpm, bars, beatsPerBar, beatUnit }) =>
      tempoBpm === null || bars === null ? '–' : `${bars} × ${beatsPerBar}/${beatUnit}`,
  },
  {
    ...{ id: 'key', label: 'Key', width: '5rem', sort: 'key' },
    cell: (row) => (
      <>
        {keyOfRow(row) ?? '–'}
        {target && <KeyAtTarget row={row} target={target} />}
      </>
    ),
  },
  {
    ...{ id: 'certain', label: 'Certain', width: '3rem', isRight: true },
    cell: ({ tempoSureness, keySureness }) => {
      const sureness = tempoSureness ?? keySureness;
      return sureness === null ? '–' : percentText(sureness);
    },
  },
  {
    ...{ id: 'status', label: 'Status', width: '6rem', sort: 'standing' },
    cell: ({ standing }) => <StatusMark standing={standing} />,
  },
  {
    ...{ id: 'need', label: 'Uncertain, to do', width: 'minmax(11rem, 1fr)', sort: 'need' },
    cell: ({ sampleId, measuring, fault, doubts, todos }) =>
      measuring ? (
        <MeasuringLine sampleId={sampleId} {...measuring} />
      ) : (
        <Need fault={fault} doubts={allDoubtWords(doubts)} todos={allDoubtWords(todos)} />
      ),
  },
];

/** The name of a sample, with its stem set and its folder. */
function ArrivalName({ row, onOpen }: { row: SampleSummary; onOpen: (sampleId: string) => void }) {
  return (
    <>
      <RowName row={row} onOpen={onOpen} />
      <div className="truncate text-tiny text-ink-soft">
        {row.stemSet && (
          <span className="mr-1.5 border border-rule-strong px-1" title={`Stem set “${row.stemSet.name}”`}>
            {row.stemSet.state === 'joined' ? 'set' : 'set?'} {row.stemSet.name}
          </span>
        )}
        {row.folder || ' '}
        {row.arrivedAs && <span title="Original file name"> · was {row.arrivedAs}</span>}
      </div>
    </>
  );
}

const STAGE_TEXT: Record<string, string> = {
  decode: 'decoding',
  onsets: 'finding hits',
  harmony: 'measuring the key',
  rhythm: 'fitting the grid',
  decision: 'deciding',
};

function MeasuringLine({
  sampleId,
  state,
  stage,
  progress,
}: NonNullable<SampleSummary['measuring']> & { sampleId: string }) {
  const stop = (
    <button
      type="button"
      className="underline hover:text-ink"
      onClick={(event) => {
        event.stopPropagation();
        stopMeasuring(sampleId).catch(tell);
      }}
    >
      cancel
    </button>
  );
  if (state === 'waiting')
    return (
      <div className="flex justify-between text-ink-soft">
        <span>waiting to be measured</span>
        {stop}
      </div>
    );
  return (
    <div>
      <div className="flex gap-2 text-tiny text-ink-soft">
        <span className="mr-auto">{STAGE_TEXT[stage] ?? 'measuring'}</span>
        <span className="figures">{percentText(progress)}</span>
        {stop}
      </div>
      <Progress label="Measured" value={progress} />
    </div>
  );
}

/** Why a row needs a look, and, quieter and with another sign, what waits to be done with it. */
function Need({
  fault,
  doubts,
  todos,
}: {
  fault: string | null;
  doubts: readonly string[];
  todos: readonly string[];
}) {
  if (fault) return <Sign icon={TriangleAlert} label="Cannot be read" ink="text-one" words={[fault]} />;
  const isBoth = doubts.length > 0 && todos.length > 0;
  return (
    <>
      {doubts.length > 0 && (
        <Sign icon={TriangleAlert} label="Needs review" ink="text-look" words={doubts} isShort={isBoth} />
      )}
      {todos.length > 0 && (
        <Sign icon={ListTodo} label="To do" ink="text-ink-soft" words={todos} isShort={isBoth} />
      )}
    </>
  );
}

/** A sign with its words, on one line where it is short, else on two. */
function Sign({
  icon: Icon,
  label,
  ink,
  words,
  isShort = false,
}: {
  icon: LucideIcon;
  label: string;
  ink: string;
  words: readonly string[];
  isShort?: boolean;
}) {
  return (
    <span title={words.join('\n')} className={clsx('flex items-start gap-1', ink)}>
      <Icon className="mt-0.5 size-3.5 shrink-0" aria-label={label} />
      <span className={clsx('leading-tight', isShort ? 'truncate' : 'line-clamp-2')}>{words.join('; ')}</span>
    </span>
  );
}
