'use client';
import { useShortcuts } from '../kit/shortcuts';
import { LIST, ROW } from '../shortcuts/shortcutTables';
import type { Row } from './useCursor';
import type { Listing } from './usePagedList';
import type { Selection } from './useSelection';

interface Keyed<R> {
  list: Listing<R>;
  selection?: Selection<R>;
  /** The cursor was moved by one row. */
  onStep?: (row: R) => void;
  onPlay?: (row: R) => void;
  onOpen?: (row: R) => void;
  /** The same, straight to cutting. */
  onCut?: (row: R) => void;
  /** Enter was pressed while the cursor is on no row. */
  onOpenNone?: () => void;
}

/** The keys that all lists have: along it, to its ends, selecting, playing, opening. */
export function useListKeys<R extends Row>({ list, selection, ...on }: Keyed<R>): void {
  const { cursor, total } = list;
  const { onStep, onPlay, onOpen, onCut, onOpenNone } = on;
  const step = (by: number) => {
    const row = cursor.step(by);
    if (row) onStep?.(row);
  };
  useShortcuts(LIST, {
    next: () => step(1),
    previous: () => step(-1),
    tenDown: () => cursor.step(10),
    tenUp: () => cursor.step(-10),
    first: () => cursor.moveTo(0),
    last: () => cursor.moveTo(total - 1),
    ...(selection && {
      toggle: () => cursor.row && selection.toggle(cursor.row),
      all: selection.all,
      clear: selection.clear,
    }),
  });
  useShortcuts(ROW, {
    ...(onPlay && { play: () => cursor.row && onPlay(cursor.row) }),
    ...(onOpen && { open: () => (cursor.row ? onOpen(cursor.row) : onOpenNone?.()) }),
    ...(onCut && { cut: () => cursor.row && onCut(cursor.row) }),
  });
}
