import type { ShelfView } from '@/contract/shelfQuery';
import { searchTerms } from './searchTerms';

/** A question to the Shelf with the measures that are typed among its words; what is chosen beside them counts first. */
export function meantBy(view: ShelfView): ShelfView {
  const { terms, rest } = searchTerms(view.text);
  // What has a value of its own from the start (`exactly`, `saved`) is no measure.
  const chosen = Object.entries(view).filter(([, value]) => value !== null);
  const measures = terms.map(({ meant: { tag, ...measure } }) => (tag ? {} : measure));
  const tags = new Set([...view.tags, ...terms.flatMap(({ meant }) => meant.tag ?? [])]);
  return Object.assign({ ...view }, ...measures, Object.fromEntries(chosen), { text: rest, tags: [...tags] });
}
