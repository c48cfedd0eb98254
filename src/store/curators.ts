import pg from 'pg';
import { z } from 'zod';
import { curator, initialsOf, type Curator } from '@/contract/curators';
import type { Queryable } from './database';
import { fromRow } from './rows';

const COLUMNS = 'curator_id as "curatorId", name, initials, named';

/** All curators, those who were here first at the beginning. */
export async function listCurators(on: Queryable): Promise<Curator[]> {
  const { rows } = await on.query(`select ${COLUMNS} from curators order by made_at, curator_id`);
  return fromRow(z.array(curator), rows, 'curator');
}

/** One curator; where nobody is named, or nobody of that number, the one who was here first. */
export async function readCurator(on: Queryable, curatorId: string | null): Promise<Curator> {
  const { rows } = await on.query(
    `select ${COLUMNS} from curators order by curator_id = $1 desc nulls last, made_at, curator_id limit 1`,
    [curatorId],
  );
  return fromRow(curator, rows[0], 'curator');
}

/** The curator of a name: one who is known by it, the one without a name, or a new one. */
export async function curatorNamed(on: Queryable, name: string): Promise<Curator> {
  const { rows } = await on.query(
    `with known as (select ${COLUMNS} from curators where lower(name) = lower($1) and named),
          renamed as (update curators set name = $1, initials = $2, named = true
                       where not named and not exists (select from known) returning ${COLUMNS}),
          added as (insert into curators (name, initials) select $1, $2
                     where not exists (select from known) and not exists (select from curators where not named)
                    on conflict (lower(name)) do nothing returning ${COLUMNS})
     select * from known union all select * from renamed union all select * from added`,
    [name, initialsOf(name)],
  );
  // Somebody else added the same name at the same time: now it is known.
  return rows.length ? fromRow(curator, rows[0], 'curator') : curatorNamed(on, name);
}

/** Somebody else goes by that name. */
export class NameTakenError extends Error {
  override name = 'NameTakenError';
}

const UNIQUE_VIOLATION = '23505';

/** Changes a curator's name and initials; null for an unknown one. Throws NameTakenError. */
export async function renameCurator(on: Queryable, curatorId: string, name: string): Promise<Curator | null> {
  const { rows } = await on
    .query(
      `update curators set name = $2, initials = $3, named = true where curator_id = $1 returning ${COLUMNS}`,
      [curatorId, name, initialsOf(name)],
    )
    .catch((error: Error) => {
      if (error instanceof pg.DatabaseError && error.code === UNIQUE_VIOLATION)
        throw new NameTakenError(`there is a curator “${name}”`, { cause: error });
      throw error;
    });
  return rows.length ? fromRow(curator, rows[0], 'curator') : null;
}
