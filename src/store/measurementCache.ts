import { ENGINE } from '@/core/measurement/engine';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { database } from './database';
import { fromRow } from './rows';
import { MEASUREMENT_VERSION } from './samples';

/** What is not in the library is remembered for the files heard last. */
const MOST_HEARD = 20_000;

/** What today's engine measured of a file with this content (SHA-256, hex), in the library or where it was heard; null for nothing. */
export async function readCachedMeasurement(sha256: string): Promise<Measurement | null> {
  const { rows } = await database().query(
    `select measurement from (
       select measurement, 0 as rank from samples x join originals o using (original_id)
        where o.sha256 = $1 and measurement is not null and measurement_version = $2 and engine = $3
       union all
       select measurement, 1 from heard where sha256 = $1 and measurement_version = $2 and engine = $3) as known
      order by rank limit 1`,
    [sha256, MEASUREMENT_VERSION, ENGINE.version],
  );
  return rows.length ? fromRow(measurement, rows[0].measurement, 'measurement') : null;
}

/** Remembers what was measured of a file with this content. What was heard long ago is forgotten. */
export async function cacheMeasurement(sha256: string, found: Measurement): Promise<void> {
  await database().query(
    `with old as (
       delete from heard where heard_at < (select heard_at from heard order by heard_at desc offset ${MOST_HEARD} limit 1))
     insert into heard (sha256, measurement, measurement_version, engine) values ($1, $2, $3, $4)
         on conflict (sha256) do update
        set measurement = excluded.measurement, measurement_version = excluded.measurement_version, engine = excluded.engine, heard_at = now()`,
    [sha256, found, MEASUREMENT_VERSION, ENGINE.version],
  );
}
