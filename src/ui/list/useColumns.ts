'use client';
import { useMemo, type ReactNode } from 'react';
import { z } from 'zod';
import { browserStore, type BrowserStore } from '../kit/browserStore';

export interface Column<R> {
  id: string;
  label: string;
  /** Its track in CSS: "4rem", "minmax(13rem, 1.25fr)". */
  width: string;
  isRight?: boolean;
  /** It cannot be hidden. */
  isFixed?: boolean;
  /** What the list is sorted by when its head is pressed. */
  sort?: string;
  className?: string;
  /** `isDrawn`: false while the list is scrolled past the row; what takes time is left for later. */
  cell: (row: R, index: number, isDrawn: boolean) => ReactNode;
}

const keptSchema = z.object({
  hidden: z.array(z.string()),
  /** Widths that were dragged, px. */
  widths: z.record(z.string(), z.number().min(24).max(2000)),
});
type Kept = z.infer<typeof keptSchema>;
const NONE: Kept = { hidden: [], widths: {} };

/** What is kept of each list, by its name. */
const stores = new Map<string, BrowserStore<Kept>>();
function storeOf(name: string): BrowserStore<Kept> {
  const store = stores.get(name) ?? browserStore(`grento-columns ${name}`, keptSchema, NONE);
  stores.set(name, store);
  return store;
}

export interface Columns<R> {
  shown: readonly Column<R>[];
  all: readonly Column<R>[];
  /** The tracks of the columns that are shown; with another width of one of them. */
  template: (dragged?: { id: string; px: number }) => string;
  toggle: (id: string) => void;
  setWidth: (id: string, px: number) => void;
  reset: () => void;
  isChanged: boolean;
}

/** The columns of a list that are shown and how wide they are; kept in this browser under the name of the list. */
export function useColumns<R>(name: string, all: readonly Column<R>[]): Columns<R> {
  const store = storeOf(name);
  const kept = store.use();
  return useMemo(() => {
    const shown = all.filter(({ id, isFixed }) => isFixed || !kept.hidden.includes(id));
    return {
      shown,
      all,
      template: (dragged) =>
        shown
          .map(({ id, width }) => {
            const px = dragged?.id === id ? dragged.px : kept.widths[id];
            return px === undefined ? width : `${px}px`;
          })
          .join(' '),
      toggle: (id) => {
        const { hidden } = kept;
        const next = hidden.includes(id) ? hidden.filter((one) => one !== id) : [...hidden, id];
        store.set({ ...kept, hidden: next });
      },
      setWidth: (id, px) => {
        const width = Math.max(24, Math.min(2000, Math.round(px)));
        store.set({ ...kept, widths: { ...kept.widths, [id]: width } });
      },
      reset: () => store.set(NONE),
      isChanged: kept.hidden.length > 0 || Object.keys(kept.widths).length > 0,
    };
  }, [all, kept, store]);
}
