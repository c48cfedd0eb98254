import type pg from 'pg';
import { database } from './database';
import { dropOriginals, type Removed } from './heldBytes';

export interface BinContents {
  samples: number;
  /** What would be free without them: bytes that no other sample, and no pack, holds as well. */
  bytes: number;
}

/** What lies in the bin. */
export async function readBin(): Promise<BinContents> {
  const { rows } = await database().query(
    `with binned as (
       select x.sample_id, x.original_id, x.listening_id from settled s join samples x using (sample_id) where s.binned_at is not null),
     held as (
       select distinct o.original_id, o.byte_length from binned b join originals o on o.original_id in (b.original_id, b.listening_id)
        where not exists (
          select from held_originals other where other.original_id = o.original_id
             and not (other.holder in ('sample', 'listening copy') and other.key in (select sample_id::text from binned))))
     select (select count(*) from binned) as samples, (select coalesce(sum(byte_length), 0)::double precision from held) as bytes`,
  );
  return rows[0];
}

/** Samples in the bin: all, those of these, or those that have been there for so many days. */
export async function binnedSamples(
  which: { ids: readonly string[] | null; olderThanDays: number | null },
  most: number,
): Promise<string[]> {
  const { rows } = await database().query(
    `select sample_id as id from settled where binned_at is not null
        and ($1::uuid[] is null or sample_id = any($1))
        and ($2::integer is null or binned_at < now() - make_interval(days => $2)) order by binned_at, sample_id limit $3`,
    [which.ids, which.olderThanDays, most],
  );
  return rows.map(({ id }) => id);
}

export interface Deleted extends Removed {
  samples: string[];
}

/**
 * Deletes samples for good, with all that is known of them, and their bytes as far as nobody else holds those. Those that were
 * taken out of the bin meanwhile stay.
 */
export async function deleteBinned(client: pg.PoolClient, sampleIds: readonly string[]): Promise<Deleted> {
  const { rows } = await client.query(
    `delete from samples x using settled s
      where x.sample_id = any($1) and s.sample_id = x.sample_id and s.binned_at is not null
      returning x.sample_id as "sampleId", x.original_id as "originalId", x.listening_id as "listeningId"`,
    [sampleIds],
  );
  const originals = rows.flatMap(({ originalId, listeningId }) => [originalId, listeningId ?? []].flat());
  return {
    samples: rows.map(({ sampleId }) => sampleId),
    ...(await dropOriginals(client, [...new Set(originals)])),
  };
}
