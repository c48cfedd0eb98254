'use client';
import { useDraggable } from '@dnd-kit/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Play, Plus, Square } from 'lucide-react';
import {
  useDeferredValue,
  useEffect,
  useMemo,
  useState,
  type HTMLAttributes,
  type KeyboardEvent,
  type RefObject,
} from 'react';
import { bpmText, keyOfRow, lengthText } from '@/words/figures';
import { keyNumber } from '@/core/harmony/keyNames';
import type { Blend } from '@/contract/blend';
import { MOST_LANES } from '@/contract/blend';
import type { SampleSummary } from '@/contract/entry';
import { fetchShelf } from '../api/shelf';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { IconButton } from '../kit/IconButton';
import { Awaited, Empty } from '../kit/States';
import { SampleList } from '../list/SampleList';
import type { Column } from '../list/useColumns';
import { useWholeList } from '../list/usePagedList';
import { wordsOfIncoming } from './incomingWords';

interface Props {
  search: RefObject<HTMLInputElement | null>;
  blend: Blend;
  /** Heard in time with the others before it is added; null: none. */
  tried: string | null;
  onTry: (row: SampleSummary | null) => void;
  onAdd: (row: SampleSummary) => void;
}

/** As many are listed. */
const LISTED = 40;
const NONE: SampleSummary[] = [];

/** Samples of the Shelf to add: heard in time first, those with the least strain on top. */
export function AddSamples({ search, blend, tried, onTry, onAdd }: Props) {
  const [text, setText] = useState('');
  const asked = useDeferredValue(text);
  const { tempoBpm, key } = blend;
  const isFull = blend.lanes.length >= MOST_LANES;
  const params = new URLSearchParams({ text: asked, limit: String(LISTED), direction: 'up' });
  params.set('sort', tempoBpm === null ? 'name' : 'strain');
  if (tempoBpm !== null) params.set('targetTempo', String(tempoBpm));
  if (tempoBpm !== null && key) params.set('targetKey', String(keyNumber(key)));
  const query = useQuery({
    queryKey: ['shelf', 'add', params.toString()],
    queryFn: ({ signal }) => fetchShelf(params, signal),
    placeholderData: keepPreviousData,
  });
  const list = useWholeList(query.data?.rows ?? NONE, params.toString(), query);
  const { cursor } = list;
  const current = cursor.row ?? list.rows[0] ?? null;
  useEffect(() => () => onTry(null), [onTry]);
  const toggle = (row: SampleSummary) => onTry(tried === row.sampleId ? null : row);
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by !== 0) {
      // The first row is the current one before any is chosen.
      const next = cursor.moveTo(cursor.at < 0 ? by : cursor.at + by);
      if (tried !== null && next) onTry(next);
    } else if (event.key === 'Enter' && current) onAdd(current);
    else if (event.key === ' ' && event.ctrlKey && current) toggle(current);
    else if (event.key === 'Escape') event.currentTarget.blur();
    else return;
    event.preventDefault();
  };
  const columns = useMemo(
    () =>
      addColumns({
        blend,
        tried,
        isFull,
        onToggle: (row) => onTry(tried === row.sampleId ? null : row),
        onAdd,
      }),
    [blend, tried, isFull, onTry, onAdd],
  );
  return (
    <section aria-label="Add" className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex items-center gap-2 px-3 py-1">
        <TextField
          ref={search}
          className="w-72"
          aria-label="Find samples to add"
          placeholder="search the Shelf"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={onKeyDown}
        />
        <span className="text-small text-ink-soft">
          {isFull
            ? `A blend holds ${MOST_LANES} lanes; remove one first.`
            : '↓ next, Ctrl + Space previews it in time, Enter adds it; or drag it onto a bar'}
        </span>
      </div>
      <SampleList
        name="add"
        label="Samples to add"
        {...{ list, columns }}
        rowHeight={28}
        leastWidth="min-w-[46rem]"
        onOpen={() => {}}
        Frame={isFull ? undefined : DraggedSample}
        empty={
          list.isPending || list.error ? (
            <Awaited of={query} what="samples" />
          ) : (
            <Empty>{text ? 'No saved sample matches.' : 'The Shelf is empty. Save samples first.'}</Empty>
          )
        }
      />
    </section>
  );
}

interface Given {
  blend: Blend;
  tried: string | null;
  isFull: boolean;
  onToggle: (row: SampleSummary) => void;
  onAdd: (row: SampleSummary) => void;
}

const addColumns = ({ blend, tried, isFull, onToggle, onAdd }: Given): Column<SampleSummary>[] => [
  {
    ...{ id: 'play', label: '', width: '1.75rem', isFixed: true },
    cell: (row) => {
      const isTried = tried === row.sampleId;
      return (
        <IconButton
          small
          label={isTried ? `Stop ${row.name}` : `Preview ${row.name} in time`}
          pressed={isTried}
          onClick={() => onToggle(row)}
        >
          {isTried ? <Square aria-hidden /> : <Play aria-hidden />}
        </IconButton>
      );
    },
  },
  {
    ...{ id: 'name', label: 'Name', width: '14rem', isFixed: true, className: 'truncate font-medium' },
    cell: ({ name }) => name,
  },
  {
    ...{ id: 'tempo', label: 'BPM', width: '4.5rem', isRight: true },
    cell: ({ tempoBpm }) => tempoBpm !== null && bpmText(tempoBpm),
  },
  { id: 'key', label: 'Key', width: '5rem', cell: keyOfRow },
  {
    ...{ id: 'length', label: 'Length', width: '4rem', isRight: true, className: 'text-ink-soft' },
    cell: ({ durationSeconds }) => durationSeconds !== null && lengthText(durationSeconds),
  },
  {
    ...{ id: 'change', label: 'In this blend', width: '1fr', className: 'truncate text-ink-soft' },
    cell: (row) => wordsOfIncoming(row, blend),
  },
  {
    ...{ id: 'add', label: '', width: '4rem', isFixed: true },
    cell: (row) => (
      <Button small disabled={isFull} aria-label={`Add ${row.name}`} onClick={() => onAdd(row)}>
        <Plus className="size-3.5" aria-hidden /> add
      </Button>
    ),
  },
];

/** A row that can be dragged onto a bar. */
function DraggedSample({
  row,
  className,
  ...frame
}: HTMLAttributes<HTMLDivElement> & { row: SampleSummary }) {
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: `add ${row.sampleId}`, data: { row } });
  return (
    <div
      ref={setNodeRef}
      {...listeners}
      className={clsx(className, 'cursor-grab', isDragging && 'opacity-50')}
      {...frame}
    />
  );
}
