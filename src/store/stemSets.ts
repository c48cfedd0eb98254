import { measurement, type Measurement } from '@/core/measurement/schema';
import type { StemCandidate } from '@/core/stems/stemSets';
import { database, type Queryable } from './database';

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
  array(select m.sample_id from stem_set_members m join samples s using (sample_id)
         where m.set_id = t.set_id and s.removed_at is null order by s.arrived_at, s.name) as "sampleIds"`;

/** One set, or null. */
export async function readStemSet(on: Queryable, setId: string): Promise<StoredSet | null> {
  const { rows } = await on.query(`select ${COLUMNS} from stem_sets t where set_id = $1`, [setId]);
  return rows[0] ?? null;
}

/** The set that a sample belongs to or is proposed for, or null. */
export async function setOfSample(on: Queryable, sampleId: string): Promise<StoredSet | null> {
  const { rows } = await on.query(
    `select ${COLUMNS} from stem_sets t
      where t.state <> 'refused' and exists (select from stem_set_members m where m.set_id = t.set_id and m.sample_id = $1)
      limit 1`,
    [sampleId],
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

/** Makes a set of samples; each leaves the set that it was in. */
export async function makeStemSet(
  on: Queryable,
  set: {
    name: string;
    state: 'proposed' | 'joined';
    reasons: readonly string[];
    sampleIds: readonly string[];
  },
): Promise<string> {
  const { rows } = await on.query(
    'insert into stem_sets (name, state, reasons) values ($1, $2, $3) returning set_id as id',
    [set.name, set.state, set.reasons],
  );
  await addToStemSet(on, rows[0].id, set.sampleIds);
  return rows[0].id;
}

/** Puts samples into a set; each leaves the set that it was in. */
export async function addToStemSet(
  on: Queryable,
  setId: string,
  sampleIds: readonly string[],
): Promise<void> {
  await on.query(
    `delete from stem_set_members m using stem_sets t
      where t.set_id = m.set_id and t.state <> 'refused' and t.set_id <> $1 and m.sample_id = any($2)`,
    [setId, sampleIds],
  );
  await on.query(
    'insert into stem_set_members (set_id, sample_id) select $1, unnest($2::uuid[]) on conflict do nothing',
    [setId, sampleIds],
  );
}

export async function leaveStemSet(on: Queryable, setId: string, sampleId: string): Promise<void> {
  await on.query('delete from stem_set_members where set_id = $1 and sample_id = $2', [setId, sampleId]);
}

export async function changeStemSet(
  on: Queryable,
  setId: string,
  change: Partial<Pick<StoredSet, 'name' | 'state' | 'gridFrom' | 'keyFrom' | 'reasons'>>,
): Promise<void> {
  await on.query(
    `update stem_sets set name = coalesce($2, name), state = coalesce($3, state), grid_from = coalesce($4, grid_from),
            key_from = coalesce($5, key_from), reasons = coalesce($6, reasons) where set_id = $1`,
    [
      setId,
      change.name ?? null,
      change.state ?? null,
      change.gridFrom ?? null,
      change.keyFrom ?? null,
      change.reasons ?? null,
    ],
  );
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

/** Measured samples of the same folder and nearly the same length as one, itself included. */
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
      where s.sample_id = $1 and o.removed_at is null and o.measurement is not null and o.fault is null
        and coalesce(o.kind, '') not in ('oneshot', 'midi')
      order by o.arrived_at limit $3`,
    [sampleId, toleranceSeconds, most],
  );
  return rows.map(asStem);
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
  const measured = measurement.parse(row.measurement);
  return {
    id: row.id as string,
    name: row.name as string,
    folder: row.folder as string,
    durationSeconds: row.durationSeconds as number,
    measurement: measured,
    tempoBpm: measured.tempo?.bpm ?? null,
  };
}
