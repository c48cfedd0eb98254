import type pg from 'pg';
import { z } from 'zod';
import type { Blend } from '@/core/library/blend';
import { blendRow, keptBlend, mixOf, type BlendRow, type KeptBlend, type MixOf } from '@/core/blend/keeping';
import { type Outcome } from '@/core/library/mix';
import type { Differences, Planned } from '@/core/recipes/differences';
import { database, type Queryable } from './database';
import { fromRow, known } from './rows';

const VERSION = 1;
/** So many steps can be taken back. */
const MOST_STEPS = 300;
/** More would be no help to find one. */
const MOST_LISTED = 500;

/** All blends that are not in the bin, those changed last first. */
export async function listBlends(): Promise<BlendRow[]> {
  const { rows } = await database().query(
    `select b.blend_id as "blendId", s.state ->> 'name' as name, to_json(b.changed_at) as "changedAt",
            (s.state ->> 'tempoBpm')::double precision as "tempoBpm",
            array(select lane ->> 'name' from jsonb_array_elements(s.state -> 'lanes') lane) as lanes
       from blends b join blend_states s using (blend_id, sequence)
      where b.binned_at is null order by b.changed_at desc limit ${MOST_LISTED}`,
  );
  return fromRow(z.array(blendRow), rows, 'blend');
}

/** The blends, not in the bin, that hold a sample now; those changed last first. */
export async function blendsWith(sampleId: string): Promise<{ blendId: string; name: string }[]> {
  const { rows } = await database().query(
    `select b.blend_id as "blendId", s.state ->> 'name' as name
       from blends b join blend_states s using (blend_id, sequence)
      where b.binned_at is null and s.state -> 'lanes' @> $1::jsonb
      order by b.changed_at desc limit ${MOST_LISTED}`,
    [JSON.stringify([{ sampleId }])],
  );
  return rows;
}

/** How many blends that are not in the bin hold any of these samples. */
export async function countBlendsWith(sampleIds: readonly string[]): Promise<number> {
  const { rows } = await database().query(
    `select count(*) as count from blends b join blend_states s using (blend_id, sequence)
      where b.binned_at is null
        and s.state -> 'lanes' @> any(select jsonb_build_array(jsonb_build_object('sampleId', id)) from unnest($1::text[]) id)`,
    [sampleIds],
  );
  return Number(rows[0].count);
}

/** One blend as it is now; null where there is none, or it is in the bin. `lock`: nobody else changes it meanwhile. */
export async function readBlend(on: Queryable, blendId: string, lock = false): Promise<KeptBlend | null> {
  // Before anything is read: who has waited is to see what was changed meanwhile.
  if (lock) await on.query('select from blends where blend_id = $1 for update', [blendId]);
  const { rows } = await on.query(
    `select b.blend_id as "blendId", b.sequence, s.state, s.version,
            (select case when b.sequence > min(sequence) then s.words end from blend_states o where o.blend_id = b.blend_id) as undo,
            (select words from blend_states o where o.blend_id = b.blend_id and o.sequence = b.sequence + 1) as redo
       from blends b join blend_states s using (blend_id, sequence)
      where b.blend_id = $1 and b.binned_at is null`,
    [blendId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'blend');
  return fromRow(keptBlend, rows[0], 'blend');
}

/** Keeps a new blend. */
export async function insertBlend(
  client: pg.PoolClient,
  state: Blend,
  words: string,
  curatorId: string | null,
): Promise<string> {
  const { rows } = await client.query('insert into blends default values returning blend_id as id');
  await insertState(client, rows[0].id, 0, state, words, curatorId);
  return rows[0].id;
}

async function insertState(
  client: pg.PoolClient,
  blendId: string,
  sequence: number,
  state: Blend,
  words: string,
  curatorId: string | null,
) {
  await client.query(
    `insert into blend_states (blend_id, sequence, words, state, version, curator_id) values ($1, $2, $3, $4, ${VERSION}, $5)`,
    [blendId, sequence, words, JSON.stringify(state), curatorId],
  );
}

/** Makes a state the one that is shown, after the one at `sequence`; what was taken back before is gone. */
export async function addState(
  client: pg.PoolClient,
  { blendId, sequence }: Pick<KeptBlend, 'blendId' | 'sequence'>,
  state: Blend,
  words: string,
  curatorId: string | null,
): Promise<void> {
  await client.query(
    'delete from blend_states where blend_id = $1 and (sequence > $2 or sequence <= $2 - $3)',
    [blendId, sequence, MOST_STEPS],
  );
  await insertState(client, blendId, sequence + 1, state, words, curatorId);
  await showState(client, blendId, sequence + 1);
}

/** Shows another of a blend's states. */
export async function showState(client: pg.PoolClient, blendId: string, sequence: number): Promise<void> {
  await client.query('update blends set sequence = $2, changed_at = now() where blend_id = $1', [
    blendId,
    sequence,
  ]);
}

/** Puts a blend into the bin or takes it out; false where there is none, or it is there already. */
export async function binBlend(blendId: string, isBinned: boolean): Promise<boolean> {
  const { rowCount } = await database().query(
    `update blends set binned_at = case when $2 then now() end where blend_id = $1 and (binned_at is null) = $2`,
    [blendId, isBinned],
  );
  return rowCount === 1;
}

/** Keeps of which blend a sample came. */
export async function writeMix(
  client: pg.PoolClient,
  sampleId: string,
  kept: { blendId: string; outcome: Outcome; state: Blend; planned: Planned; differences: Differences },
): Promise<void> {
  await client.query(
    `insert into mixes (sample_id, blend_id, outcome, state, planned, differences, version)
     select $1, (select blend_id from blends where blend_id = $2), $3, $4, $5, $6, ${VERSION}`,
    [
      sampleId,
      kept.blendId,
      ...[kept.outcome, kept.state, kept.planned, kept.differences].map((value) => JSON.stringify(value)),
    ],
  );
}

/** Of which blend a sample came; null for any other. */
export async function readMix(sampleId: string): Promise<MixOf | null> {
  const { rows } = await database().query(
    `select m.blend_id as "blendId", outcome, state, differences, version from mixes m where sample_id = $1`,
    [sampleId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'mix');
  return fromRow(mixOf, rows[0], 'mix');
}
