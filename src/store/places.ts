import type pg from 'pg';
import { z } from 'zod';
import { place, type Place } from '@/contract/places';
import { database } from './database';
import { fromRow } from './rows';

const COLUMNS = 'place_id as "placeId", path, watched, fault';

/** Folders, by path. */
export async function listPlaces(): Promise<Place[]> {
  const { rows } = await database().query(`select ${COLUMNS} from places order by place_id desc`);
  return fromRow(z.array(place), rows, 'place');
}

export async function readPlace(placeId: number): Promise<Place | null> {
  const { rows } = await database().query(`select ${COLUMNS} from places where place_id = $1`, [placeId]);
  return rows.length ? fromRow(place, rows[0], 'place') : null;
}

/** Keeps a folder; one that is kept already stays as it is. */
export async function addPlace(path: string): Promise<Place> {
  const { rows } = await database().query(
    `insert into places (path) values ($1) on conflict (path) do update set path = excluded.path returning ${COLUMNS}`,
    [path],
  );
  return fromRow(place, rows[0], 'place');
}

export async function changePlace(
  placeId: number,
  change: { watched?: boolean; fault?: string | null },
): Promise<Place | null> {
  const { rows } = await database().query(
    `update places set watched = coalesce($2, watched), fault = case when $3 then $4 else fault end
      where place_id = $1 returning ${COLUMNS}`,
    [placeId, change.watched ?? null, change.fault !== undefined, change.fault ?? null],
  );
  return rows.length ? fromRow(place, rows[0], 'place') : null;
}

export async function forgetPlace(placeId: number): Promise<boolean> {
  const { rowCount } = await database().query('delete from places where place_id = $1', [placeId]);
  return rowCount === 1;
}

/** First key of the advisory locks that those who watch places hold; the second is the place. */
const WATCH_LOCKS = 7_342;

/** Takes the watching of a place for as long as `client` is connected; false when somebody else watches it. */
export async function holdPlace(client: pg.ClientBase, placeId: number): Promise<boolean> {
  const { rows } = await client.query('select pg_try_advisory_lock($1, $2) as held', [WATCH_LOCKS, placeId]);
  return rows[0].held;
}

export async function letPlaceGo(client: pg.ClientBase, placeId: number): Promise<void> {
  await client.query('select pg_advisory_unlock($1, $2)', [WATCH_LOCKS, placeId]);
}
