import type pg from 'pg';
import type { z } from 'zod';
import { revisionEntry } from '@/core/library/entry';
import { settledState, type SettledState } from '@/core/library/settled';
import type { Queryable } from './database';

export interface Revision {
  sequence: number;
  state: SettledState;
}

/** Somebody else changed the sample meanwhile. */
export class StaleChangeError extends Error {
  override name = 'StaleChangeError';
}

/**
 * Adds a revision after the current one and makes it current; revisions that had been undone are
 * abandoned. `base` is the revision that the change was made to: throws StaleChangeError when it is no
 * longer the current one.
 */
export async function addRevision(
  client: pg.PoolClient,
  sampleId: string,
  base: number | null,
  state: SettledState,
  words: string,
  madeBy: 'measurement' | 'curator',
): Promise<number> {
  const current = await lockCurrent(client, sampleId);
  if (current !== base)
    throw new StaleChangeError('This sample was changed elsewhere in the meantime; it is shown anew.');
  if (current !== null)
    await client.query('update revisions set abandoned = true where sample_id = $1 and sequence > $2', [
      sampleId,
      current,
    ]);
  const { grid, key } = state;
  const keyed = key && !('none' in key) ? key : null;
  const { rows } = await client.query(
    `insert into revisions (sample_id, sequence, words, made_by, tempo_bpm, one_seconds, beats_per_bar, beat_unit, moving_beats,
                            key_tonic, key_mode, key_none, tuning_cents, tags, note, rating, origin, licence, chosen,
                            pins, loop, title, kind, accepted)
     values ($1, coalesce((select max(sequence) from revisions where sample_id = $1), 0) + 1,
             $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, $23)
     returning sequence`,
    [
      sampleId,
      words,
      madeBy,
      grid?.tempoBpm ?? null,
      grid?.one ?? null,
      grid?.meter.beatsPerBar ?? null,
      grid?.meter.beatUnit ?? null,
      grid?.movingBeats ?? null,
      keyed?.tonic ?? null,
      keyed?.mode ?? null,
      key !== null && !keyed,
      state.tuningCents,
      JSON.stringify(state.tags),
      state.note,
      state.rating,
      state.origin,
      state.licence,
      state.chosen,
      JSON.stringify(state.pins),
      state.loop && JSON.stringify(state.loop),
      state.title,
      state.kind,
      state.accepted,
    ],
  );
  await makeCurrent(client, sampleId, rows[0].sequence, state);
  return rows[0].sequence;
}

/** Moves one step back or forth along the revisions that are not abandoned; null when there is none. */
export async function stepRevision(
  client: pg.PoolClient,
  sampleId: string,
  direction: 'undo' | 'redo',
): Promise<number | null> {
  const current = await lockCurrent(client, sampleId);
  if (current === null) return null;
  const { rows } = await client.query(
    direction === 'undo'
      ? 'select max(sequence) as sequence from revisions where sample_id = $1 and sequence < $2 and not abandoned'
      : 'select min(sequence) as sequence from revisions where sample_id = $1 and sequence > $2 and not abandoned',
    [sampleId, current],
  );
  const sequence: number | null = rows[0].sequence;
  if (sequence === null) return null;
  const revision = await readRevision(client, sampleId, sequence);
  await makeCurrent(client, sampleId, sequence, revision!.state);
  return sequence;
}

/** One revision's settled state, or null. */
export async function readRevision(
  on: Queryable,
  sampleId: string,
  sequence: number,
): Promise<Revision | null> {
  const { rows } = await on.query('select * from revisions where sample_id = $1 and sequence = $2', [
    sampleId,
    sequence,
  ]);
  if (rows.length === 0) return null;
  const row = rows[0];
  const state = settledState.parse({
    grid:
      row.tempo_bpm === null
        ? null
        : {
            tempoBpm: row.tempo_bpm,
            one: row.one_seconds,
            meter: { beatsPerBar: row.beats_per_bar, beatUnit: row.beat_unit },
            movingBeats: row.moving_beats,
          },
    pins: row.pins,
    loop: row.loop,
    key: row.key_none
      ? { none: true }
      : row.key_tonic === null
        ? null
        : { tonic: row.key_tonic, mode: row.key_mode },
    tuningCents: row.tuning_cents,
    tags: row.tags,
    note: row.note,
    rating: row.rating,
    origin: row.origin,
    licence: row.licence,
    title: row.title,
    kind: row.kind,
    accepted: row.accepted,
    chosen: row.chosen,
  });
  return { sequence, state };
}

/** The history of a sample, oldest first. */
export async function revisionHistory(
  on: Queryable,
  sampleId: string,
): Promise<z.infer<typeof revisionEntry>[]> {
  const { rows } = await on.query(
    `select sequence, words, made_by as "madeBy", made_at as "madeAt", abandoned
       from revisions where sample_id = $1 order by sequence`,
    [sampleId],
  );
  return rows.map((row) => revisionEntry.parse(row));
}

async function lockCurrent(client: pg.PoolClient, sampleId: string): Promise<number | null> {
  const { rows } = await client.query(
    'select current_sequence from samples where sample_id = $1 for update',
    [sampleId],
  );
  return rows[0]?.current_sequence ?? null;
}

/** Points the sample at a revision and renews what searches read. */
async function makeCurrent(
  client: pg.PoolClient,
  sampleId: string,
  sequence: number,
  { tags, note, origin, title }: SettledState,
) {
  const words = [title ?? '', ...tags.map(({ value }) => value), note, origin].join(' ');
  await client.query(
    "update samples set current_sequence = $2, search_text = lower(name || ' ' || folder || ' ' || $3) where sample_id = $1",
    [sampleId, sequence, words],
  );
  await client.query('delete from sample_tags where sample_id = $1', [sampleId]);
  await client.query(
    `insert into sample_tags (sample_id, facet, value)
     select $1, facet, value from jsonb_to_recordset($2) as given (facet text, value text) on conflict do nothing`,
    [sampleId, JSON.stringify(tags)],
  );
}
