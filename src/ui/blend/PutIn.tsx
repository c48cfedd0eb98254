'use client';
import { useDraggable } from '@dnd-kit/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Play, Plus, Square } from 'lucide-react';
import { useDeferredValue, useEffect, useState, type RefObject } from 'react';
import { keyNumber, type Key } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { fetchShelf } from '../api/shelf';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import { bpmText, keyOfRow, lengthText } from '../pieces/figures';
import { keepKeysFree } from '../pieces/pressedByMouse';

interface Props {
  search: RefObject<HTMLInputElement | null>;
  /** What would change to what. */
  wordsFor: (row: SampleSummary) => string;
  /** Heard in time with the others before it is put in; null: none. */
  tried: string | null;
  onTry: (row: SampleSummary | null) => void;
  onPut: (row: SampleSummary) => void;
  tempoBpm: number | null;
  target: Key | null;
  isFull: boolean;
}

/** As many are listed. */
const LISTED = 40;

/** Samples of the Shelf that may be put in: heard in time first, what nears the blend's tempo on top. */
export function PutIn({ search, wordsFor, tried, onTry, onPut, tempoBpm, target, isFull }: Props) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const asked = useDeferredValue(text);
  const params = new URLSearchParams({ text: asked, limit: String(LISTED), direction: 'up' });
  if (tempoBpm !== null) {
    params.set('sort', 'strain');
    params.set('targetTempo', String(tempoBpm));
    if (target) params.set('targetKey', String(keyNumber(target)));
  } else params.set('sort', 'name');
  const { data, error, isPending } = useQuery({
    queryKey: ['shelf', 'put in', params.toString()],
    queryFn: ({ signal }) => fetchShelf(params, signal),
    placeholderData: keepPreviousData,
  });
  const rows = data?.rows ?? [];
  const current = rows[Math.min(at, rows.length - 1)] ?? null;
  useEffect(() => () => onTry(null), [onTry]);
  return (
    <section aria-label="Put in" className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-2 px-3 py-1">
        <TextField
          ref={search}
          className="w-72"
          aria-label="Look for samples to put in"
          placeholder="look for samples on the Shelf"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setAt(0);
          }}
          onKeyDown={(event) => {
            if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
              event.preventDefault();
              const next = Math.max(0, Math.min(rows.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)));
              setAt(next);
              if (tried !== null && rows[next]) onTry(rows[next]);
            } else if (event.key === 'Enter' && current) {
              event.preventDefault();
              onPut(current);
            } else if (event.key === ' ' && event.ctrlKey && current) {
              event.preventDefault();
              onTry(tried === current.sampleId ? null : current);
            } else if (event.key === 'Escape') event.currentTarget.blur();
          }}
        />
        <span className="text-small text-ink-soft">
          {isFull
            ? 'Twelve lanes are the most; take one out first.'
            : '↓ walks, Ctrl + Space hears it in time, Enter puts it in; or drag it onto a bar'}
        </span>
      </div>
      <ul className="min-h-0 flex-1 overflow-y-auto" aria-label="Samples to put in">
        {error && <li className="px-3 py-2 text-one">{error.message}</li>}
        {!isPending && rows.length === 0 && !error && (
          <li className="px-3 py-2 text-ink-soft">
            {text ? 'Nothing saved matches these words.' : 'Nothing is on the Shelf yet; save samples first.'}
          </li>
        )}
        {rows.map((row, i) => (
          <PutRow
            key={row.sampleId}
            row={row}
            isCurrent={row === current}
            words={wordsFor(row)}
            isTried={tried === row.sampleId}
            isFull={isFull}
            onTry={() => {
              setAt(i);
              onTry(tried === row.sampleId ? null : row);
            }}
            onPut={() => onPut(row)}
          />
        ))}
      </ul>
    </section>
  );
}

function PutRow({
  row,
  isCurrent,
  words,
  isTried,
  isFull,
  onTry,
  onPut,
}: {
  row: SampleSummary;
  isCurrent: boolean;
  words: string;
  isTried: boolean;
  isFull: boolean;
  onTry: () => void;
  onPut: () => void;
}) {
  const { setNodeRef, listeners, isDragging } = useDraggable({
    id: `put ${row.sampleId}`,
    data: { row },
    disabled: isFull,
  });
  return (
    <li
      ref={setNodeRef}
      {...listeners}
      aria-current={isCurrent || undefined}
      className={clsx(
        'grid h-7 cursor-grab grid-cols-[1.75rem_14rem_4.5rem_5rem_4rem_1fr_auto] items-center gap-2 border-b border-rule px-3 text-small',
        isCurrent && 'bg-wash-ink',
        isDragging && 'opacity-50',
      )}
    >
      <button
        type="button"
        onMouseDown={keepKeysFree}
        aria-label={isTried ? `Stop ${row.name}` : `Hear ${row.name} in time`}
        aria-pressed={isTried}
        className={clsx(
          'grid size-5 place-items-center border',
          isTried ? 'border-ink bg-ink text-paper' : 'border-rule-strong hover:bg-wash-ink',
        )}
        onClick={onTry}
      >
        {isTried ? <Square className="size-3" aria-hidden /> : <Play className="size-3" aria-hidden />}
      </button>
      <span className="truncate font-medium">{row.name}</span>
      <span className="figures text-right">{row.tempoBpm === null ? '' : bpmText(row.tempoBpm)}</span>
      <span className="truncate">{keyOfRow(row) ?? ''}</span>
      <span className="figures text-right text-ink-soft">
        {row.durationSeconds === null ? '' : lengthText(row.durationSeconds)}
      </span>
      <span className="truncate text-ink-soft">{words}</span>
      <Button className="h-6 px-1.5!" disabled={isFull} aria-label={`Put ${row.name} in`} onClick={onPut}>
        <Plus className="size-3.5" aria-hidden /> put in
      </Button>
    </li>
  );
}
