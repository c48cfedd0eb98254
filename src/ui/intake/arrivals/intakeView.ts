import { GUESSED, type Guessed } from '@/contract/errorsLeft';
import { intakeQuery, type IntakeQuery } from '@/contract/shelfQuery';
import { paramsBeside } from '../../kit/useAddressed';

/** What of the Intake is listed, and in which order. */
export type IntakeView = Pick<IntakeQuery, 'show' | 'text' | 'sort' | 'direction' | 'kind'>;

export const WHOLE: IntakeView = { show: 'all', text: '', sort: 'need', direction: 'down', kind: '' };

/** The samples of which measuring alone says a value, the least certain on top. */
export const leastCertain = (guessed: Guessed): IntakeView => ({
  ...WHOLE,
  show: `measured ${guessed}`,
  sort: `${guessed} confidence`,
  direction: 'up',
});

export const leastCertainPath = (guessed: Guessed): string =>
  `/intake?${paramsBeside(leastCertain(guessed), WHOLE)}`;

/** Of which value that is what is listed, or null. */
export const guessedShown = ({ show }: IntakeView): Guessed | null =>
  GUESSED.find((guessed) => show === `measured ${guessed}`) ?? null;

const viewSchema = intakeQuery.pick({ show: true, text: true, sort: true, direction: true, kind: true });

/** How a view stands in the address. */
export const IN_ADDRESS = {
  names: Object.keys(viewSchema.shape),
  read: (params: URLSearchParams): IntakeView | null => {
    if (!Object.keys(viewSchema.shape).some((name) => params.has(name))) return null;
    const view = viewSchema.safeParse(Object.fromEntries(params));
    return view.success ? view.data : null;
  },
  write: (view: IntakeView) => paramsBeside(view, WHOLE),
};

/** A view as a query of the server. */
export function paramsOf(
  view: IntakeView,
  page: Partial<Pick<IntakeQuery, 'offset' | 'limit' | 'of'>> = {},
): URLSearchParams {
  const params = new URLSearchParams(view);
  for (const [name, value] of Object.entries(page)) if (value !== null) params.set(name, String(value));
  return params;
}

/** The same view sorted by a column: the other way round when it is that column already. */
export function sortedBy(view: IntakeView, sort: IntakeQuery['sort']): IntakeView {
  const isDown = ['arrived', 'need', 'standing'].includes(sort);
  const turned = view.direction === 'down' ? 'up' : 'down';
  return { ...view, sort, direction: sort === view.sort ? turned : isDown ? 'down' : 'up' };
}
