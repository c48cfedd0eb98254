import { keyNumber } from '@/core/harmony/keyNames';
import { meantBy } from '@/library/search/meantBy';
import { shelfView, type ShelfQuery, type ShelfView } from '@/contract/shelfQuery';
import { paramsBeside } from '../kit/useAddressed';
import { aimOf, type TargetState } from '../target/target';

export const WHOLE_SHELF: ShelfView = shelfView.parse({});

const NAMES = Object.keys(shelfView.shape);
/** How the Shelf's question stands in its address; another screen may ask for similarity alone. */
export const SHELF_ADDRESS = {
  names: NAMES,
  read: (params: URLSearchParams): ShelfView | null => {
    if (!NAMES.some((name) => params.has(name))) return null;
    const ordered = params.has('like') && !params.has('sort') ? { sort: 'likeness', direction: 'up' } : {};
    const view = shelfView.safeParse({
      ...Object.fromEntries(params),
      tags: params.getAll('tags'),
      ...ordered,
    });
    return view.success ? view.data : null;
  },
  write: (view: ShelfView) => paramsBeside(view, WHOLE_SHELF),
};

/** What the Shelf is asked: the order by strain wants a target, and is that of saving without one. */
export function askedOf(view: ShelfView, target: TargetState): Omit<ShelfQuery, 'offset' | 'limit' | 'of'> {
  const { tempoBpm, key, isTape } = aimOf(target);
  const isByStrain = view.sort === 'strain' && target.isOn;
  const { sort, direction } = WHOLE_SHELF;
  return {
    ...meantBy(view),
    ...(view.sort === 'strain' && !target.isOn ? { sort, direction } : {}),
    targetTempo: isByStrain ? tempoBpm : null,
    targetKey: isByStrain && key ? keyNumber(key) : null,
    targetTape: isByStrain && isTape,
  };
}

/** The question without its order, which counts do not depend on. */
export const unordered = (asked: ReturnType<typeof askedOf>) => ({
  ...asked,
  ...{ sort: null, direction: null, targetTempo: null, targetKey: null },
});

/** A page of the Shelf's question as the server takes it. */
export function shelfParams(
  { tags, ...asked }: ReturnType<typeof askedOf>,
  page: Partial<ShelfQuery>,
): URLSearchParams {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries({ ...asked, ...page }))
    if (value !== null && value !== '') params.set(name, String(value));
  for (const tag of tags) params.append('tags', tag);
  return params;
}
