import { STORED_AS, storageState, writtenBackup, type StorageState } from '@/contract/storage';
import { database } from './database';
import { fromRow } from './rows';

const stored = storageState.pick({ stored: true, databaseBytes: true });

/** What the library takes up in the database. */
export async function readStored(): Promise<Pick<StorageState, 'stored' | 'databaseBytes'>> {
  const { rows } = await database().query(
    `with made as (select sample_id from recipes union select sample_id from mixes),
     holders as (
       select x.original_id, case when m.sample_id is null then 0 else 1 end as place
         from samples x left join made m using (sample_id)
       union all select listening_id, 2 from samples
       union all select original_id, 3 from pack_parts
       union all select original_id, 4 from held_originals),
     first as (select original_id, min(place) as place from holders group by original_id),
     files as (
       select byte_length, ($1::text[])[coalesce(place, 5) + 1] as purpose
         from originals left join first using (original_id)
        where sha256 is not null),
     sums as (select purpose, count(*)::integer as files, sum(byte_length)::bigint as bytes from files group by purpose)
     select (select coalesce(jsonb_object_agg(purpose, jsonb_build_object('files', files, 'bytes', bytes)), '{}') from sums) as stored,
            pg_database_size(current_database()) as "databaseBytes"`,
    [STORED_AS],
  );
  return fromRow(stored, rows[0], 'storage');
}

/** The newest backup of the library; null where there is none. */
export async function readLastBackup(): Promise<StorageState['lastBackup']> {
  const { rows } = await database().query(
    `select file, byte_length as bytes, samples, began_at as "beganAt", verified_at as "verifiedAt",
            extract(epoch from now() - began_at)::double precision / 86400 as age
       from backups order by began_at desc limit 1`,
  );
  return rows.length ? fromRow(writtenBackup, rows[0], 'backup') : null;
}
