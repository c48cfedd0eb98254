import { place, type Place } from '@/core/library/intake';
import { database } from './database';

const COLUMNS = 'place_id as "placeId", path, watched, fault';

/** Kept places, by path. */
export async function listPlaces(): Promise<Place[]> {
  const { rows } = await database().query(`select ${COLUMNS} from places order by path`);
  return rows.map((row) => place.parse(row));
}

export async function readPlace(placeId: number): Promise<Place | null> {
  const { rows } = await database().query(`select ${COLUMNS} from places where place_id = $1`, [placeId]);
  return rows.length ? place.parse(rows[0]) : null;
}

/** Keeps a folder; one that is kept already stays as it is. */
export async function addPlace(path: string): Promise<Place> {
  const { rows } = await database().query(
    `insert into places (path) values ($1) on conflict (path) do update set path = excluded.path returning ${COLUMNS}`,
    [path],
  );
  return place.parse(rows[0]);
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
  return rows.length ? place.parse(rows[0]) : null;
}

export async function forgetPlace(placeId: number): Promise<boolean> {
  const { rowCount } = await database().query('delete from places where place_id = $1', [placeId]);
  return rowCount === 1;
}
