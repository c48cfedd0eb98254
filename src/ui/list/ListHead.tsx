'use client';
import clsx from 'clsx';
import { ArrowDown, ArrowUp, Columns3 } from 'lucide-react';
import { useRef, type PointerEvent, type RefObject } from 'react';
import { Button } from '../kit/Button';
import { Checkbox } from '../kit/Checkbox';
import { Popup } from '../kit/Popup';
import { keepKeysFree } from '../kit/pressedByMouse';
import type { Column, Columns } from './useColumns';

export interface Sorting {
  by: string;
  direction: 'up' | 'down';
  onSort: (by: string) => void;
}

interface Props<R> {
  columns: Columns<R>;
  sorting?: Sorting;
  /** The list, whose tracks are drawn while a column is dragged. */
  grid: RefObject<HTMLDivElement | null>;
  className: string;
}

/** The heads of the columns: sorted by pressing, sized by dragging their edges. */
export function ListHead<R>({ columns, sorting, grid, className }: Props<R>) {
  // Where the button stands there is no room for an edge: one of no width shares its place with the one before it.
  const last = columns.shown.findLastIndex(({ width }) => width !== '0');
  return (
    <div
      role="row"
      className={clsx(
        className,
        'h-7 shrink-0 items-center border-b border-rule-strong text-tiny text-ink-soft',
      )}
    >
      {columns.shown.map((column, place) => (
        <div
          key={column.id}
          role="columnheader"
          aria-sort={
            sorting && column.sort === sorting.by
              ? sorting.direction === 'up'
                ? 'ascending'
                : 'descending'
              : undefined
          }
          className={clsx('relative flex h-full min-w-0 items-center', column.isRight && 'justify-end')}
        >
          <Title column={column} sorting={sorting} />
          {place < last && <Edge column={column} columns={columns} grid={grid} />}
          {place === columns.shown.length - 1 && <ColumnChoice columns={columns} />}
        </div>
      ))}
    </div>
  );
}

/** Which columns are shown: at the end of the last head, so that it lies over none of them in a list that is scrolled to the side. */
function ColumnChoice<R>({ columns }: { columns: Columns<R> }) {
  return (
    <Popup
      className="absolute! top-0.5 -right-3"
      tone="quiet"
      small
      label="Columns"
      title="Columns"
      button={<Columns3 className="size-3.5" aria-hidden />}
      width="w-44"
    >
      {columns.all
        .filter(({ isFixed }) => !isFixed)
        .map(({ id, label }) => (
          <Checkbox
            key={id}
            label={label}
            value={columns.shown.some((one) => one.id === id)}
            onValue={() => columns.toggle(id)}
          />
        ))}
      <Button small className="w-full" disabled={!columns.isChanged} onClick={columns.reset}>
        Reset columns
      </Button>
    </Popup>
  );
}

function Title<R>({ column: { label, sort }, sorting }: { column: Column<R>; sorting?: Sorting }) {
  if (!sort || !sorting) return <span className="truncate">{label}</span>;
  const isBy = sort === sorting.by;
  const Arrow = sorting.direction === 'up' ? ArrowUp : ArrowDown;
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      className={clsx(
        'inline-flex min-w-0 items-center gap-0.5 truncate hover:text-ink',
        isBy && 'font-semibold text-ink',
      )}
      onClick={() => sorting.onSort(sort)}
    >
      {label}
      {isBy && <Arrow className="size-3 shrink-0" aria-hidden />}
    </button>
  );
}

/** By how much an arrow key widens a column, px. */
const STEP = 8;

function Edge<R>({ column, columns, grid }: { column: Column<R> } & Pick<Props<R>, 'columns' | 'grid'>) {
  const dragged = useRef<{ x: number; width: number } | null>(null);
  const widthAt = ({ clientX }: PointerEvent) => dragged.current!.width + clientX - dragged.current!.x;
  const widthOf = (edge: Element) => edge.parentElement!.getBoundingClientRect().width;
  return (
    <button
      type="button"
      aria-label={`Width of ${column.label || column.id}`}
      title="Drag to change the width"
      onMouseDown={keepKeysFree}
      className="absolute inset-y-1 -right-2 w-2 cursor-col-resize touch-none border-r border-transparent hover:border-ink focus-visible:border-ink"
      onPointerDown={(event) => {
        event.preventDefault();
        event.currentTarget.setPointerCapture(event.pointerId);
        dragged.current = { x: event.clientX, width: widthOf(event.currentTarget) };
      }}
      onPointerMove={(event) => {
        if (!dragged.current) return;
        const px = Math.max(24, widthAt(event));
        grid.current?.style.setProperty('--columns', columns.template({ id: column.id, px }));
      }}
      onPointerUp={(event) => {
        if (dragged.current) columns.setWidth(column.id, widthAt(event));
        dragged.current = null;
      }}
      onKeyDown={(event) => {
        const by = event.key === 'ArrowRight' ? STEP : event.key === 'ArrowLeft' ? -STEP : 0;
        if (by === 0) return;
        event.preventDefault();
        columns.setWidth(column.id, widthOf(event.currentTarget) + by);
      }}
    />
  );
}
