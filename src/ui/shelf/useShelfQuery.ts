import type { ShelfQuery } from '@/core/library/shelfQuery';

/** The Shelf's question without the page. */
export type ShelfView = Omit<ShelfQuery, 'offset' | 'limit'>;

export const WHOLE_SHELF: ShelfView = {
  text: '',
  tempoFrom: null,
  tempoTo: null,
  alsoHalfDouble: false,
  keyTonic: null,
  keyMode: null,
  kind: null,
  tags: [],
  sort: 'saved',
  direction: 'down',
};

/** A page of the Shelf's question as the server takes it. */
export function shelfParams({ tags, ...view }: ShelfView, offset: number, limit: number): URLSearchParams {
  const params = new URLSearchParams({ offset: String(offset), limit: String(limit) });
  for (const [name, value] of Object.entries(view))
    if (value !== null && value !== '') params.set(name, String(value));
  for (const tag of tags) params.append('tags', tag);
  return params;
}
