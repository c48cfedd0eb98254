'use client';
import { useState } from 'react';
import { useStable } from '../kit/useStable';

export interface Row {
  sampleId: string;
}

interface Place<R> {
  /** Where it was last seen in the list. */
  index: number;
  /** The row it is on; null until the row at `index` is loaded. */
  row: R | null;
}

interface Listed<R> {
  total: number;
  rowAt: (index: number) => R | null;
  /** Where a loaded row stands now, −1 when it is not among them. */
  indexOf: (sampleId: string) => number;
  /** The query of the list: with another query the cursor starts again. */
  asked: string;
}

export interface Cursor<R> {
  /** Where its row stands in the list; −1 when there is none, or it stands elsewhere. */
  at: number;
  row: R | null;
  /** How often it was moved: each time its row is scrolled into sight. */
  moves: number;
  moveTo: (index: number) => R | null;
  /** Moves it by so many rows; returns the row it is on then, where that is loaded. */
  step: (by: number) => R | null;
}

/**
 * The cursor of a list: it is on a *sample*, not on a line. Whatever arrives, sinks or is sorted meanwhile, keys act on
 * the sample that was chosen; only stepping, pressing a row, or an action that goes on to the next one moves it.
 */
export function useCursor<R extends Row>({ total, rowAt, indexOf, asked }: Listed<R>): Cursor<R> {
  const [place, setPlace] = useState<Place<R> | null>(null);
  const [moves, setMoves] = useState(0);
  const [query, setQuery] = useState(asked);

  let now = place;
  if (place) {
    const here = place.row ? indexOf(place.row.sampleId) : -1;
    const index = here >= 0 ? here : query === asked ? place.index : -1;
    const row = here >= 0 ? rowAt(here) : (place.row ?? rowAt(place.index));
    if (index !== place.index || row !== place.row) setPlace((now = { index, row }));
  }
  if (query !== asked) setQuery(asked);

  const moveTo = useStable((index: number): R | null => {
    if (total === 0) return null;
    const to = Math.max(0, Math.min(total - 1, index));
    const row = rowAt(to);
    setPlace({ index: to, row });
    setMoves((count) => count + 1);
    return row;
  });
  const isListed = now !== null && now.row !== null && indexOf(now.row.sampleId) >= 0;
  const step = useStable((by: number): R | null => {
    const from = now?.index ?? -1;
    // What left the list made room: the next one stands where it stood.
    const rows = !isListed && now?.row && by > 0 && from >= 0 ? by - 1 : by;
    return moveTo(from < 0 ? (by > 0 ? by - 1 : 0) : from + rows);
  });
  const at = isListed || now?.row === null ? (now?.index ?? -1) : -1;
  return { at, row: now?.row ?? null, moves, moveTo, step };
}
