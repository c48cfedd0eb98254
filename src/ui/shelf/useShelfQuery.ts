import type { ShelfQuery } from '@/core/library/shelfQuery';

/** The Shelf's question without the page. */
export type ShelfView = Omit<ShelfQuery, 'offset' | 'limit' | 'of'>;

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
export function shelfParams({ tags, ...view }: ShelfView, page: Partial<ShelfQuery>): URLSearchParams {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries({ ...view, ...page }))
    if (value !== null && value !== '') params.set(name, String(value));
  for (const tag of tags) params.append('tags', tag);
  return params;
}
