import { database, type Queryable } from './database';

/** Bytes that were stored just now may be about to be held by what is being made. */
const SETTLING = "interval '1 hour'";
/** So many originals are removed in one go: each may be a gigabyte. */
const AT_ONCE = 50;

export interface Removed {
  originals: number;
  bytes: number;
}

/** Removes those of these originals that nobody holds (`held_originals`). */
export async function dropOriginals(on: Queryable, originalIds: readonly number[]): Promise<Removed> {
  if (originalIds.length === 0) return { originals: 0, bytes: 0 };
  const { rows } = await on.query(
    `with gone as (delete from originals where original_id = any($1) and not rests_on(original_id) returning byte_length)
     select count(*) as originals, coalesce(sum(byte_length), 0)::double precision as bytes from gone`,
    [originalIds],
  );
  return rows[0];
}

/** Removes all complete originals that nobody holds, once they have had time to be held; says how much that was. */
export async function sweepOriginals(): Promise<Removed> {
  const all: Removed = { originals: 0, bytes: 0 };
  for (;;) {
    const { rows } = await database().query(
      `select original_id as id from originals
        where sha256 is not null and complete_at < now() - ${SETTLING} and not rests_on(original_id) limit ${AT_ONCE}`,
    );
    const { originals, bytes } = await dropOriginals(
      database(),
      rows.map(({ id }) => id),
    );
    all.originals += originals;
    all.bytes += bytes;
    if (originals === 0) return all;
  }
}
