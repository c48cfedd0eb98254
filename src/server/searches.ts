import { newSearch, type KeptSearch } from '@/contract/searches';
import { deleteSearch, listSearches, writeSearch } from '@/store/searches';
import { UserError } from './userError';

/** The questions to the Shelf that are kept, by name. */
export const searchesNow = (): Promise<KeptSearch[]> => listSearches();

/** Keeps a question under its name. Throws UserError when there are too many. */
export async function keepSearch(input: unknown): Promise<KeptSearch[]> {
  if (!(await writeSearch(newSearch.parse(input))))
    throw new UserError('There are 200 saved searches already; delete one first.', 409);
  return listSearches();
}

/** Forgets a kept question. Throws UserError when there is no such one. */
export async function forgetSearch(searchId: string): Promise<void> {
  if (!(await deleteSearch(searchId))) throw new UserError('This search has been deleted already.', 404);
}
