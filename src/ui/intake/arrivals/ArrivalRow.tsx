'use client';
import clsx from 'clsx';
import { ListTodo, TriangleAlert, type LucideIcon } from 'lucide-react';
import { memo, useState } from 'react';
import { toast } from 'sonner';
import type { SampleSummary } from '@/contract/entry';
import { allDoubtWords } from '@/words/doubts';
import { stopMeasuring } from '../../api/samples';
import { bpmText, keyOfRow, KIND_TEXT, lengthText, percentText } from '../../pieces/figures';
import { StandingMark } from '../../pieces/StandingMark';
import { rowGestures, rowGround, type RowGestures } from '../../pieces/rowGestures';
import { Thumbnail } from '../../trace/Thumbnail';
import { keepKeysFree } from '../../pieces/pressedByMouse';

/** Widths of the columns, shared by head and rows. */
export const COLUMNS =
  'grid grid-cols-[8.5rem_minmax(13rem,1.25fr)_4rem_4rem_4.5rem_5rem_5rem_3rem_6rem_minmax(11rem,1fr)] gap-x-3 px-4';

interface Props extends Pick<RowGestures, 'index' | 'onSelect' | 'onOpen'> {
  row: SampleSummary;
  /** The row that keys act on. */
  selected: boolean;
  /** One of those that are chosen together. */
  chosen: boolean;
  /** While the list is scrolled: new rows leave their waveform for later. */
  sketchy: boolean;
}

export const ArrivalRow = memo(function ArrivalRow({
  row,
  index,
  selected,
  chosen,
  sketchy,
  onSelect,
  onOpen,
}: Props) {
  const { tempoBpm, tempoSureness, beatsPerBar, beatUnit, bars, measuring, fault } = row;
  const sureness = tempoSureness ?? row.keySureness;
  // Once drawn it stays.
  const [drawn, setDrawn] = useState(!sketchy);
  if (!sketchy && !drawn) setDrawn(true);
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={selected || chosen}
      {...rowGestures({ sampleId: row.sampleId, index, onSelect, onOpen })}
      className={clsx(
        COLUMNS,
        'h-11 items-center border-b border-rule text-small',
        rowGround(selected, chosen),
      )}
    >
      <div role="gridcell">
        {drawn ? (
          <Thumbnail
            sampleId={row.sampleId}
            thumbnail={row.thumbnail}
            durationSeconds={row.durationSeconds}
            name={row.name}
          />
        ) : (
          <div className="h-8 bg-sunk/50" />
        )}
      </div>
      <div role="gridcell" className="min-w-0">
        <button
          type="button"
          onMouseDown={keepKeysFree}
          tabIndex={-1}
          className="block max-w-full truncate text-left text-base font-medium hover:underline"
          onClick={(event) => {
            // With a modifier it is a choice of rows, which the row hears.
            if (!event.shiftKey && !event.ctrlKey && !event.metaKey) onOpen(row.sampleId);
          }}
        >
          {row.name}
        </button>
        <div className="truncate text-tiny text-ink-soft">
          {row.stemSet && (
            <span className="mr-1.5 border border-rule-strong px-1" title={`Stem set “${row.stemSet.name}”`}>
              {row.stemSet.state === 'joined' ? 'set' : 'set?'} {row.stemSet.name}
            </span>
          )}
          {row.folder || ' '}
          {row.arrivedAs && <span title="The name it arrived under"> · was {row.arrivedAs}</span>}
        </div>
      </div>
      <div role="gridcell">{row.kind ? KIND_TEXT[row.kind] : '–'}</div>
      <div role="gridcell" className="figures text-right">
        {row.durationSeconds === null ? '–' : lengthText(row.durationSeconds)}
      </div>
      <div role="gridcell" className="figures text-right">
        {tempoBpm === null ? (
          '–'
        ) : (
          <>
            {row.steady === false && <span title="average of a moving tempo">~</span>}
            <b className="font-semibold">{bpmText(Math.round(tempoBpm * 100) / 100)}</b>
          </>
        )}
      </div>
      <div role="gridcell" className="figures text-right">
        {tempoBpm === null || bars === null ? '–' : `${bars} × ${beatsPerBar}/${beatUnit}`}
      </div>
      <div role="gridcell">{keyOfRow(row) ?? '–'}</div>
      <div role="gridcell" className="figures text-right">
        {sureness === null ? '–' : percentText(sureness)}
      </div>
      <div role="gridcell">
        <StandingMark standing={row.standing} />
      </div>
      <div role="gridcell" className="min-w-0">
        {measuring ? (
          <MeasuringLine sampleId={row.sampleId} {...measuring} />
        ) : (
          <Need fault={fault} doubts={allDoubtWords(row.doubts)} todos={allDoubtWords(row.todos)} />
        )}
      </div>
    </div>
  );
});

const STAGE_TEXT: Record<string, string> = {
  decode: 'decoding',
  onsets: 'finding hits',
  harmony: 'listening for the key',
  rhythm: 'laying the grid',
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
        stopMeasuring(sampleId).catch((error: Error) => toast.error(error.message));
      }}
    >
      stop
    </button>
  );
  if (state === 'waiting')
    return (
      <div className="flex justify-between text-ink-soft">
        <span>waits to be measured</span>
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
      <progress className="block h-1 w-full" max={1} value={progress} aria-label="Measured" />
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
        <Sign icon={TriangleAlert} label="Needs a look" ink="text-look" words={doubts} isShort={isBoth} />
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
