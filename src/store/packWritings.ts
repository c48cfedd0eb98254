import type pg from 'pg';
import { z } from 'zod';
import type { Pack } from '@/contract/pack';
import type { BagSample } from '@/library/packs/bag';
import { tableRow } from '@/library/packs/table';
import { packWriting } from '@/library/packs/writing';
import { differences, planned, type Differences, type Planned } from '@/core/recipes/differences';
import { database, type Queryable } from './database';
import { dropOriginals } from './heldBytes';
import { PACK_VERSION } from './packs';
import { fromRow, jsonTime, known } from './rows';

/** A file of a writing: where its bytes are, and by what it was made, where that is worth remembering. */
export type NewPart = {
  path: string;
  sha256: string;
  byteLength: number;
  madeBy: string | null;
  /** What was planned of it, and how far it is from that, where it was made by a recipe. */
  told: { planned: Planned; differences: Differences } | null;
} & ({ originalId: number; bytes: null } | { originalId: null; bytes: Uint8Array });

/** Begins a writing. Of those before it the last that came to its end is kept until this one does. */
export async function beginWriting(client: pg.PoolClient, packId: string, state: Pack): Promise<number> {
  const { rows: old } = await client.query(
    `select w.writing_id as id from pack_writings w where w.pack_id = $1
        and w.writing_id is distinct from (select max(x.writing_id) from pack_writings x left join tasks t using (task_id)
                                            where x.pack_id = $1 and coalesce(t.state, 'done') = 'done')`,
    [packId],
  );
  await dropWritings(
    client,
    old.map(({ id }) => id),
  );
  const { rows } = await client.query(
    `insert into pack_writings (pack_id, state, version) values ($1, $2, ${PACK_VERSION}) returning writing_id as id`,
    [packId, JSON.stringify(state)],
  );
  return rows[0].id;
}

/** Says which task a writing is made by. */
export async function writingIsOf(client: pg.PoolClient, writingId: number, taskId: number): Promise<void> {
  await client.query('update pack_writings set task_id = $2 where writing_id = $1', [writingId, taskId]);
}

/** Removes writings with their files, as far as nothing else rests on those. */
export async function dropWritings(on: Queryable, writingIds: readonly number[]): Promise<void> {
  if (writingIds.length === 0) return;
  const { rows } = await on.query(
    'select distinct original_id as id from pack_parts where writing_id = any($1) and original_id is not null',
    [writingIds],
  );
  await on.query('delete from pack_writings where writing_id = any($1)', [writingIds]);
  await dropOriginals(
    on,
    rows.map(({ id }) => id),
  );
}

/** Removes what was written of packs that have been in the bin for a week. */
export async function clearBinnedWritings(): Promise<void> {
  const { rows } = await database().query(
    `select w.writing_id as id from pack_writings w join packs p using (pack_id) where p.binned_at < now() - interval '7 days'`,
  );
  await dropWritings(
    database(),
    rows.map(({ id }) => id),
  );
}

const madePart = z.object({
  ...{ originalId: z.number(), sha256: z.string(), byteLength: z.number() },
  told: z.object({ planned, differences }).nullable(),
});

/** A file that was made in the very same way before, of any writing; null where there is none. */
export async function madeBefore(madeBy: string): Promise<z.infer<typeof madePart> | null> {
  const { rows } = await database().query(
    `select original_id as "originalId", sha256, byte_length as "byteLength",
            case when planned is not null then jsonb_build_object('planned', planned, 'differences', differences) end as told from pack_parts
      where made_by = $1 and original_id is not null limit 1`,
    [madeBy],
  );
  return fromRow(madePart.optional(), rows[0], 'file of a pack') ?? null;
}

/** Where in a writing a sample stands, and which revision of it was seen. */
interface Place {
  writingId: number;
  place: number;
  sampleId: string;
  sequence: number | null;
}

/** Writes what belongs to one sample, in the place of what was written of it before. */
export async function writeParts(
  client: pg.PoolClient,
  { writingId, place, sampleId, sequence }: Place,
  { row, durationSeconds }: BagSample,
  parts: readonly NewPart[],
): Promise<void> {
  await client.query('delete from pack_parts where writing_id = $1 and place = $2', [writingId, place]);
  await client.query(
    `insert into pack_samples (writing_id, place, sample_id, sequence, row, duration_seconds) values ($1, $2, $3, $4, $5, $6)
     on conflict (writing_id, place) do update
       set sequence = excluded.sequence, row = excluded.row, duration_seconds = excluded.duration_seconds`,
    [writingId, place, sampleId, sequence, JSON.stringify(row), durationSeconds],
  );
  for (const { path, originalId, bytes, sha256, byteLength, madeBy, told } of parts)
    await client.query(
      `insert into pack_parts (writing_id, place, path, original_id, bytes, sha256, byte_length, made_by, planned, differences)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
      [
        ...[writingId, place, path, originalId, bytes, sha256, byteLength, madeBy],
        ...(told ? [JSON.stringify(told.planned), JSON.stringify(told.differences)] : [null, null]),
      ],
    );
}

const FAULTS = `coalesce((select json_agg(i.name || ': ' || i.fault order by i.position) from task_items i
                    where i.task_id = w.task_id and i.state = 'failed'), '[]')::jsonb`;

/** Keeps what could not be written of a writing whose task is forgotten. */
export async function keepFaults(client: pg.PoolClient, taskId: number): Promise<void> {
  await client.query(
    `update pack_writings w set faults = ${FAULTS} from tasks t
      where w.task_id = $1 and t.task_id = w.task_id and t.state = 'done'`,
    [taskId],
  );
}

const WRITINGS = `
  select w.writing_id as "writingId", w.task_id as "taskId", coalesce(t.state, 'done') as state, w.state as pack, w.version,
         to_json(w.begun_at) as "begunAt",
         (select count(*) from pack_samples s where s.writing_id = w.writing_id) as samples,
         (select count(*) from pack_samples s left join settled n using (sample_id)
           where s.writing_id = w.writing_id and n.sequence is distinct from s.sequence) as changed,
         (select coalesce(sum(p.byte_length), 0)::double precision from pack_parts p where p.writing_id = w.writing_id) as bytes,
         coalesce(w.faults, ${FAULTS}) as faults
    from pack_writings w left join tasks t using (task_id)`;

const writing = packWriting.extend({ writingId: z.number(), begunAt: jsonTime });
type Writing = z.infer<typeof writing>;

/** The last writing of a pack that was begun, and the last that came to its end. */
export async function readWritings(
  on: Queryable,
  packId: string,
): Promise<{ last: Writing | null; done: Writing | null }> {
  const { rows } = await on.query(`${WRITINGS} where w.pack_id = $1 order by w.writing_id desc`, [packId]);
  for (const { version } of rows) known(version, PACK_VERSION, 'pack');
  const writings = fromRow(z.array(writing), rows, 'writing of a pack');
  return { last: writings[0] ?? null, done: writings.find(({ state }) => state === 'done') ?? null };
}

const part = z.object({
  path: z.string(),
  /** null: it lies with the writing itself (`readPart`). */
  originalId: z.number().nullable(),
  sha256: z.string(),
  byteLength: z.number(),
});
export type Part = z.infer<typeof part>;

/** All that a writing came to, in the order of the pack, without the bytes. */
export async function readWritten(writingId: number): Promise<{ samples: BagSample[]; parts: Part[] }> {
  const [{ rows: samples }, { rows: parts }] = await Promise.all([
    database().query(
      'select row, duration_seconds as "durationSeconds" from pack_samples where writing_id = $1 order by place',
      [writingId],
    ),
    database().query(
      `select path, original_id as "originalId", sha256, byte_length as "byteLength"
         from pack_parts where writing_id = $1 order by place, path`,
      [writingId],
    ),
  ]);
  return {
    samples: fromRow(
      z.array(z.object({ row: tableRow, durationSeconds: z.number().nullable() })),
      samples,
      'line of a pack',
    ),
    parts: fromRow(z.array(part), parts, 'file of a pack'),
  };
}

/** The bytes of a small file of a writing. */
export async function readPart(writingId: number, path: string): Promise<Uint8Array> {
  const { rows } = await database().query(
    'select bytes from pack_parts where writing_id = $1 and path = $2 and bytes is not null',
    [writingId, path],
  );
  if (rows.length === 0) throw new Error(`the file ${path} of writing ${writingId} is missing`);
  return rows[0].bytes;
}
