'use client';
import clsx from 'clsx';
import { memo, useRef, useState, type ComponentType, type HTMLAttributes, type ReactNode } from 'react';
import { useStable } from '../kit/useStable';
import { ListHead, type Sorting } from './ListHead';
import { rowGestures, rowGround, rowId } from './rowGestures';
import { useColumns, type Column } from './useColumns';
import type { Row } from './useCursor';
import type { Listing } from './usePagedList';
import type { Press, Selection } from './useSelection';
import { VirtualRows } from './VirtualRows';

type Frame<R> = ComponentType<HTMLAttributes<HTMLDivElement> & { row: R }>;

/** Rows as tiles, so many beside each other. */
interface Tiles<R> {
  across: number;
  height: number;
  tile: (row: R) => ReactNode;
}

interface Props<R> {
  /** Under which its columns are kept. */
  name: string;
  label: string;
  list: Listing<R>;
  columns: readonly Column<R>[];
  /** px */
  rowHeight: number;
  /** A class of the least width: narrower the list is scrolled sideways. */
  leastWidth: string;
  sorting?: Sorting;
  selection?: Selection<R>;
  tiles?: Tiles<R> | null;
  onOpen: (sampleId: string) => void;
  /** Scrolling has come to rest at these rows. */
  onRest?: (from: number, to: number) => void;
  /** Draws the frame of a row, where it is more than one: it can be dragged. */
  Frame?: Frame<R>;
  /** What stands below the heads where there are no rows. */
  empty: ReactNode;
}

/** Samples in rows: columns to choose, size and sort by, a cursor, a selection; only rows in sight are drawn. */
export function SampleList<R extends Row>(props: Props<R>) {
  const { list, label, rowHeight, leastWidth, sorting, selection, tiles, onOpen, onRest, Frame, empty } =
    props;
  const { total, rowAt, cursor, onRange } = list;
  const columns = useColumns(props.name, props.columns);
  const grid = useRef<HTMLDivElement>(null);
  const select = useStable((index: number, how: Press) =>
    selection ? selection.press(index, how) : void cursor.moveTo(index),
  );
  const shared = (row: R, index: number) => ({
    ...{ row, index, onSelect: select, onOpen },
    isCursor: index === cursor.at,
    isSelected: selection?.has(row.sampleId) ?? false,
  });
  const tracks = 'grid grid-cols-(--columns) gap-x-3 px-4';
  const across = tiles?.across ?? 1;
  const tile = (index: number) => {
    const row = rowAt(index);
    return row && tiles && <TileFrame key={row.sampleId} {...shared(row, index)} tile={tiles.tile} />;
  };
  const line = (index: number, isScrolling: boolean) => {
    const row = rowAt(index);
    if (!row) return <div className="mx-4 border-b border-rule" style={{ height: rowHeight }} />;
    return (
      <SampleRow
        {...shared(row, index)}
        {...{ columns: columns.shown, height: rowHeight, isScrolling, Frame }}
        className={tracks}
      />
    );
  };
  return (
    <div className="relative flex min-h-0 flex-1 flex-col">
      <div
        ref={grid}
        role={total > 0 ? 'grid' : 'group'}
        aria-label={label}
        aria-rowcount={total > 0 ? total + 1 : undefined}
        aria-multiselectable={total > 0 && selection ? true : undefined}
        aria-activedescendant={cursor.row && cursor.at >= 0 ? rowId(cursor.row.sampleId) : undefined}
        className="flex min-h-0 flex-1 flex-col overflow-x-auto"
        style={{ '--columns': columns.template() } as React.CSSProperties}
      >
        {!tiles && total > 0 && (
          <ListHead columns={columns} sorting={sorting} grid={grid} className={clsx(tracks, leastWidth)} />
        )}
        <VirtualRows
          key={across}
          className={clsx('min-h-0 flex-1 overflow-y-scroll', !tiles && leastWidth)}
          label={`Rows: ${label}`}
          count={Math.ceil(total / across)}
          rowHeight={tiles?.height ?? rowHeight}
          cursor={cursor.at >= 0 ? Math.floor(cursor.at / across) : -1}
          moves={cursor.moves}
          onRange={onRange && ((from, to) => onRange(from * across, (to + 1) * across - 1))}
          onRest={onRest}
          keyOf={tiles ? String : (index) => rowAt(index)?.sampleId}
          row={(index, isScrolling) =>
            tiles ? (
              <div
                role="row"
                className="grid"
                style={{ height: tiles.height, gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` }}
              >
                {Array.from({ length: across }, (_, i) => tile(index * across + i))}
              </div>
            ) : (
              line(index, isScrolling)
            )
          }
        >
          {total === 0 && empty}
        </VirtualRows>
      </div>
    </div>
  );
}

interface Shown<R> {
  row: R;
  index: number;
  isCursor: boolean;
  isSelected: boolean;
  onSelect: (index: number, how: Press) => void;
  onOpen: (sampleId: string) => void;
}

interface RowProps<R> extends Shown<R> {
  columns: readonly Column<R>[];
  height: number;
  isScrolling: boolean;
  Frame?: Frame<R>;
  className: string;
}

const SampleRow = memo(function SampleRow<R extends Row>(props: RowProps<R>) {
  const { row, index, isCursor, isSelected, onSelect, onOpen, columns, height, isScrolling, Frame } = props;
  // Once drawn it stays.
  const [isDrawn, setDrawn] = useState(!isScrolling);
  if (!isScrolling && !isDrawn) setDrawn(true);
  const frame = {
    ...rowGestures({ sampleId: row.sampleId, index, onSelect, onOpen }),
    ...{ role: 'row', 'aria-rowindex': index + 2, 'aria-selected': isCursor || isSelected },
    style: { height },
    className: clsx(
      props.className,
      'group/row items-center border-b border-rule text-small',
      rowGround(isCursor, isSelected),
    ),
    children: columns.map(({ id, isRight, className, cell }) => (
      <div key={id} role="gridcell" className={clsx('min-w-0', isRight && 'figures text-right', className)}>
        {cell(row, index, isDrawn)}
      </div>
    )),
  };
  return Frame ? <Frame row={row} {...frame} /> : <div {...frame} />;
}) as <R extends Row>(props: RowProps<R>) => ReactNode;

const TileFrame = memo(function TileFrame<R extends Row>(props: Shown<R> & Pick<Tiles<R>, 'tile'>) {
  const { row, index, isCursor, isSelected, onSelect, onOpen, tile } = props;
  return (
    <div
      role="gridcell"
      aria-selected={isCursor || isSelected}
      {...rowGestures({ sampleId: row.sampleId, index, onSelect, onOpen })}
      className={clsx(
        'flex min-w-0 flex-col border-r border-b border-rule px-3 py-2 text-small',
        rowGround(isCursor, isSelected),
      )}
    >
      {tile(row)}
    </div>
  );
}) as <R extends Row>(props: Shown<R> & Pick<Tiles<R>, 'tile'>) => ReactNode;
