'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';
import { useStable } from '../kit/useStable';

interface Props {
  count: number;
  rowHeight: number;
  /** The row that the cursor is on; −1 for none. */
  cursor: number;
  /** How often the hand was moved: each time its row is brought into sight, and at no other. */
  moves: number;
  /** Tells which rows are in sight. */
  onRange?: (from: number, to: number) => void;
  /** … and again when scrolling has come to rest. */
  onRest?: (from: number, to: number) => void;
  /** A row; `isScrolling`: it may leave what takes time for later. */
  row: (index: number, isScrolling: boolean) => ReactNode;
  /**
   * What stands in a row, where that is here: its piece of the page goes with it when the list is sorted again, so that
   * a press which has begun on one row never ends on another.
   */
  keyOf: (index: number) => string | undefined;
  /** What stands below the rows, such as words for an empty list. */
  children?: ReactNode;
  /** What the list is, for whoever comes to it by keys. */
  label: string;
  className?: string;
}

/** Equal rows of which only those in sight are rendered; scrolling renders nothing else again. */
export function VirtualRows({
  count,
  rowHeight,
  cursor,
  moves,
  onRange,
  onRest,
  row,
  keyOf,
  children,
  label,
  className,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
  });
  const shown = virtual.getVirtualItems();
  const [from, to] = [shown[0]?.index ?? 0, shown[shown.length - 1]?.index ?? 0];
  const { isScrolling } = virtual;
  useEffect(() => onRange?.(from, to), [from, to, onRange]);
  useEffect(() => {
    if (!isScrolling) onRest?.(from, to);
  }, [from, to, isScrolling, onRest]);
  const bring = useStable(() => {
    if (cursor >= 0) virtual.scrollToIndex(cursor);
  });
  useEffect(() => bring(), [moves, bring]);
  // Pages come at different times: what moved from one to the other may stand in both for a moment.
  const taken = new Set<string>();
  const keyed = (index: number): string => {
    const own = keyOf(index);
    const key = own === undefined || taken.has(own) ? String(index) : own;
    taken.add(key);
    return key;
  };
  return (
    <div
      ref={scroller}
      role={count > 0 ? 'rowgroup' : undefined}
      tabIndex={0}
      aria-label={label}
      className={className}
    >
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {shown.map(({ index, start }) => (
          <div
            key={keyed(index)}
            className="absolute inset-x-0"
            style={{ transform: `translateY(${start}px)` }}
          >
            {row(index, isScrolling)}
          </div>
        ))}
      </div>
      {children}
    </div>
  );
}
