import { z } from 'zod';
import { keptSearch, type KeptSearch, type NewSearch } from '@/contract/searches';
import { database } from './database';
import { fromRow } from './rows';

const VERSION = 1;

/** More would be no help to find one. */
const MOST_SEARCHES = 200;

/** All saved searches, by name. */
export async function listSearches(): Promise<KeptSearch[]> {
  const { rows } = await database().query(
    `select search_id as "searchId", name, asked from searches where version <= ${VERSION} order by lower(name) limit ${MOST_SEARCHES}`,
  );
  return fromRow(z.array(keptSearch), rows, 'search');
}

/** Keeps a search, in the place of one of its name; false where there are too many. */
export async function writeSearch({ name, asked }: NewSearch): Promise<boolean> {
  const { rowCount } = await database().query(
    `insert into searches (name, asked, version) select $1, $2, ${VERSION}
      where (select count(*) from searches) < ${MOST_SEARCHES} or exists (select from searches where lower(name) = lower($1))
     on conflict (lower(name)) do update set name = excluded.name, asked = excluded.asked, version = excluded.version`,
    [name, JSON.stringify(asked)],
  );
  return rowCount === 1;
}

/** Forgets a search; false where there is none of that number. */
export async function deleteSearch(searchId: string): Promise<boolean> {
  const { rowCount } = await database().query('delete from searches where search_id = $1', [searchId]);
  return rowCount === 1;
}
