'use client';
import { useState } from 'react';
import { useStable } from './useStable';

interface Held<Row> {
  /** Where it was last seen in the list. */
  index: number;
  /** What is held; null until the row at `index` has come. */
  row: Row | null;
}

interface Listed<Row> {
  total: number;
  rowAt: (index: number) => Row | null;
  /** Where a row of those that are here stands now, −1 when it is not among them. */
  indexOf: (sampleId: string) => number;
  /** What is asked: with another question the way along the list begins anew. */
  asked: string;
}

/**
 * The hand in a list: it lies on a *sample*, not on a row. Whatever arrives, sinks or sorts in the meantime, keys act
 * on what was chosen; only walking, pressing a row, or an act that goes on to the next one moves it.
 */
export function useHand<Row extends { sampleId: string }>({ total, rowAt, indexOf, asked }: Listed<Row>) {
  const [held, setHeld] = useState<Held<Row> | null>(null);
  /** How often the hand was moved: what it lies on is then brought into sight. */
  const [moves, setMoves] = useState(0);
  const [question, setQuestion] = useState(asked);

  let now = held;
  if (held) {
    const here = held.row ? indexOf(held.row.sampleId) : -1;
    const index = here >= 0 ? here : question === asked ? held.index : -1;
    const row = here >= 0 ? rowAt(here) : (held.row ?? rowAt(held.index));
    if (index !== held.index || row !== held.row) setHeld((now = { index, row }));
  }
  if (question !== asked) setQuestion(asked);

  const moveTo = useStable((index: number): Row | null => {
    if (total === 0) return null;
    const to = Math.max(0, Math.min(total - 1, index));
    const row = rowAt(to);
    setHeld({ index: to, row });
    setMoves((count) => count + 1);
    return row;
  });
  const isListed = now !== null && now.row !== null && indexOf(now.row.sampleId) >= 0;
  return {
    /** Where what is held stands in the list; −1 when nothing is held, or it stands elsewhere. */
    selected: isListed || now?.row === null ? (now?.index ?? -1) : -1,
    held: now?.row ?? null,
    moves,
    setSelected: moveTo,
    /** Moves the hand along the list, and says on what it lies then, where that is here. */
    walk: useStable((by: number): Row | null => {
      const from = now?.index ?? -1;
      // What left the list made room: the next one stands where it stood.
      const step = !isListed && now?.row && by > 0 && from >= 0 ? by - 1 : by;
      return moveTo(from < 0 ? (by > 0 ? by - 1 : 0) : from + step);
    }),
  };
}
