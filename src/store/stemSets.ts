import type pg from 'pg';
import type { SnapshotSet } from '@/library/change/snapshot';
import { measurement, type Measurement } from '@/core/measurement/schema';
import type { StemCandidate } from '@/core/stems/stemSets';
import { database, type Queryable } from './database';
import { fromRow } from './rows';

export interface StoredSet {
  setId: string;
  name: string;
  state: 'proposed' | 'joined' | 'refused';
  reasons: string[];
  gridFrom: string | null;
  keyFrom: string | null;
  sampleIds: string[];
}

const COLUMNS = `t.set_id as "setId", t.name, t.state, t.reasons, t.grid_from as "gridFrom", t.key_from as "keyFrom",
  array(select m.sample_id from stem_set_members m join settled s using (sample_id)
         where m.set_id = t.set_id and s.binned_at is null order by s.arrived_at, s.name) as "sampleIds"`;

/** One set, or null. */
export async function readStemSet(on: Queryable, setId: string): Promise<StoredSet | null> {
  const { rows } = await on.query(`select ${COLUMNS} from stem_sets t where set_id = $1`, [setId]);
  return rows[0] ?? null;
}

/** The set that any of the samples belongs to or is proposed for, joined ones first; null for none. */
export async function setOfAny(on: Queryable, sampleIds: readonly string[]): Promise<StoredSet | null> {
  const { rows } = await on.query(
    `select ${COLUMNS} from stem_sets t
      where t.state <> 'refused' and exists (select from stem_set_members m where m.set_id = t.set_id and m.sample_id = any($1))
      order by t.state = 'joined' desc, t.made_at limit 1`,
    [sampleIds],
  );
  return rows[0] ?? null;
}

/** All sets that are proposed or joined and still have two members, proposals first. */
export async function listStemSets(): Promise<StoredSet[]> {
  const { rows } = await database().query(
    `select * from (select ${COLUMNS}, t.made_at from stem_sets t where t.state <> 'refused') x
      where cardinality("sampleIds") > 1 order by state desc, made_at desc limit 200`,
  );
  return rows;
}

/** Makes a set of samples; each leaves the set that it was in. Returns it, and the sets that were left. */
export async function makeStemSet(
  on: Queryable,
  set: {
    name: string;
    state: 'proposed' | 'joined';
    reasons: readonly string[];
    sampleIds: readonly string[];
  },
): Promise<{ setId: string; parted: string[] }> {
  const { rows } = await on.query(
    'insert into stem_sets (name, state, reasons) values ($1, $2, $3) returning set_id as id',
    [set.name, set.state, set.reasons],
  );
  return { setId: rows[0].id, parted: await addToStemSet(on, rows[0].id, set.sampleIds) };
}

/** Puts samples into a set; each leaves the set that it was in. Returns the sets that were left. */
export async function addToStemSet(
  on: Queryable,
  setId: string,
  sampleIds: readonly string[],
): Promise<string[]> {
  const { rows } = await on.query(
    `with added as (
       insert into stem_set_members (set_id, sample_id) select $1, unnest($2::uuid[]) on conflict do nothing)
     delete from stem_set_members m using stem_sets t
      where t.set_id = m.set_id and t.state <> 'refused' and t.set_id <> $1 and m.sample_id = any($2)
      returning m.set_id as id`,
    [setId, sampleIds],
  );
  return [...new Set(rows.map(({ id }) => id as string))];
}

/** All members of sets. */
export async function membersOf(on: Queryable, setIds: readonly string[]): Promise<string[]> {
  const { rows } = await on.query('select sample_id as id from stem_set_members where set_id = any($1)', [
    setIds,
  ]);
  return rows.map(({ id }) => id);
}

/** Writes sets as they are now: name, state, who speaks, and whom they have lost. */
export async function writeSets(client: pg.PoolClient, sets: readonly SnapshotSet[]): Promise<void> {
  if (sets.length === 0) return;
  await client.query(
    `with changed as (
       select * from jsonb_to_recordset($1) as c ("setId" uuid, name text, state text, "gridFrom" uuid, "keyFrom" uuid, members uuid[])),
     lost as (
       delete from stem_set_members m using changed c where m.set_id = c."setId" and m.sample_id <> all (c.members))
     update stem_sets t set name = c.name, state = c.state, grid_from = c."gridFrom", key_from = c."keyFrom"
       from changed c where t.set_id = c."setId"`,
    [JSON.stringify(sets)],
  );
}

/** Names a proposed set again, with why its stems belong together. */
export async function renameProposal(
  on: Queryable,
  setId: string,
  name: string,
  reasons: readonly string[],
): Promise<void> {
  await on.query("update stem_sets set name = $2, reasons = $3 where set_id = $1 and state = 'proposed'", [
    setId,
    name,
    reasons,
  ]);
}

/** Whether a curator has refused a set that holds both samples. */
export async function wereRefused(on: Queryable, sampleIds: readonly string[]): Promise<boolean> {
  const { rows } = await on.query(
    `select exists (select from stem_sets t where t.state = 'refused'
        and (select count(*) from stem_set_members m where m.set_id = t.set_id and m.sample_id = any($1)) > 1) as refused`,
    [sampleIds],
  );
  return rows[0].refused;
}

export type MeasuredStem = Omit<StemCandidate, 'envelope'> & { measurement: Measurement };

/** Waits until nobody else looks for stems in the folder of a sample; until the transaction ends nobody else does. */
export async function lockFolderOf(on: Queryable, sampleId: string): Promise<void> {
  await on.query(
    'select pg_advisory_xact_lock(hashtextextended(folder, 2)) from samples where sample_id = $1',
    [sampleId],
  );
}

/** Measured samples of the same folder and nearly the same length as one, itself included: the nearest in length, then in time. */
export async function samplesOfLength(
  on: Queryable,
  sampleId: string,
  toleranceSeconds: number,
  most: number,
): Promise<MeasuredStem[]> {
  const { rows } = await on.query(
    `select o.sample_id as id, o.name, o.folder, o.duration_seconds as "durationSeconds", o.measurement
       from samples s join samples o on o.folder = s.folder
        and o.duration_seconds between s.duration_seconds - $2 and s.duration_seconds + $2
       join settled l on l.sample_id = o.sample_id and l.binned_at is null
      where s.sample_id = $1 and o.measurement is not null and o.fault is null
        and coalesce(o.kind, '') not in ('oneshot', 'midi')
      order by o.sample_id <> s.sample_id, abs(o.duration_seconds - s.duration_seconds), abs(extract(epoch from o.arrived_at - s.arrived_at))
      limit $3`,
    [sampleId, toleranceSeconds, most],
  );
  return rows.map(asStem);
}

/** When samples were measured last, by number. */
export async function measuredVersions(
  on: Queryable,
  sampleIds: readonly string[],
): Promise<Map<string, string>> {
  const { rows } = await on.query(
    'select sample_id as id, measured_at as at from samples where sample_id = any($1) and measured_at is not null',
    [sampleIds],
  );
  return new Map(rows.map(({ id, at }) => [id, String(at)]));
}

/** Measured samples by number. */
export async function measuredStems(on: Queryable, sampleIds: readonly string[]): Promise<MeasuredStem[]> {
  const { rows } = await on.query(
    `select sample_id as id, name, folder, duration_seconds as "durationSeconds", measurement
       from samples where sample_id = any($1) and measurement is not null`,
    [sampleIds],
  );
  return rows.map(asStem);
}

function asStem(row: Record<string, unknown>): MeasuredStem {
  const measured = fromRow(measurement, row.measurement, 'measurement');
  return {
    id: row.id as string,
    name: row.name as string,
    folder: row.folder as string,
    durationSeconds: row.durationSeconds as number,
    measurement: measured,
    tempoBpm: measured.tempo?.bpm ?? null,
  };
}
