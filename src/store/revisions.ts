import type pg from 'pg';
import { z } from 'zod';
import type { NewRevision } from '@/library/change/changeSet';
import type { SnapshotRevision } from '@/library/change/snapshot';
import { madeBy } from '@/contract/entry';
import { settledState, type SettledState } from '@/contract/settled';
import { fromRow, jsonTime, known } from './rows';

const VERSION = 1;

/** A row of `revisions` as JSON, with its curator. */
export const REVISION_JSON = `jsonb_build_object(
  'row', to_jsonb(r), 'curator', (select jsonb_build_object('curatorId', c.curator_id, 'name', c.name, 'initials', c.initials)
                                    from curators c where c.curator_id = r.curator_id))`;

const revisionJson = z.object({
  row: z.object({
    sequence: z.number(),
    words: z.string(),
    made_by: z.enum(['measurement', 'curator']),
    made_at: jsonTime,
    abandoned: z.boolean(),
    change_id: z.uuid().nullable(),
    joined_set: z.uuid().nullable(),
    version: z.number(),
    tempo_bpm: z.number().nullable(),
    one_seconds: z.number().nullable(),
    beats_per_bar: z.number().nullable(),
    beat_unit: z.number().nullable(),
    moving_beats: z.array(z.number()).nullable(),
    key_tonic: z.number().nullable(),
    key_mode: z.enum(['major', 'minor']).nullable(),
    key_none: z.boolean(),
    tuning_cents: z.number().nullable(),
    tags: z.unknown(),
    note: z.string(),
    rating: z.number().nullable(),
    origin: z.string(),
    licence: z.string(),
    chosen: z.unknown(),
    pins: z.unknown(),
    loop: z.unknown(),
    title: z.string().nullable(),
    kind: z.string().nullable(),
    accepted: z.boolean(),
  }),
  curator: madeBy.nullable(),
});
type RevisionRow = z.infer<typeof revisionJson>['row'];

/** A revision out of `REVISION_JSON`. */
export function revisionOf(json: unknown): SnapshotRevision {
  const { row, curator } = fromRow(revisionJson, json, 'revision');
  known(row.version, VERSION, 'revision');
  return {
    sequence: row.sequence,
    words: row.words,
    state: stateOf(row),
    changeId: row.change_id,
    madeBy: row.made_by === 'measurement' ? 'measurement' : curator,
    joinedSet: row.joined_set,
  };
}

function stateOf(row: RevisionRow): SettledState {
  const state = {
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
  };
  return fromRow(settledState, state, 'settled state');
}

/**
 * Adds revisions, one for each sample, that one change by `curatorId` (null: measuring) made. Those that had been
 * undone are abandoned.
 */
export async function insertRevisions(
  client: pg.PoolClient,
  revisions: readonly NewRevision[],
  changeId: string,
  curatorId: string | null,
): Promise<void> {
  if (revisions.length === 0) return;
  const rows = revisions.map(({ state, ...revision }) => {
    const { grid, key } = state;
    const keyed = key && !('none' in key) ? key : null;
    return {
      sample_id: revision.sampleId,
      sequence: revision.sequence,
      after: revision.after,
      words: revision.words,
      joined_set: revision.joinedSet,
      tempo_bpm: grid?.tempoBpm ?? null,
      one_seconds: grid?.one ?? null,
      beats_per_bar: grid?.meter.beatsPerBar ?? null,
      beat_unit: grid?.meter.beatUnit ?? null,
      moving_beats: grid?.movingBeats ?? null,
      key_tonic: keyed?.tonic ?? null,
      key_mode: keyed?.mode ?? null,
      key_none: key !== null && !keyed,
      tuning_cents: state.tuningCents,
      tags: state.tags,
      note: state.note,
      rating: state.rating,
      origin: state.origin,
      licence: state.licence,
      chosen: state.chosen,
      pins: state.pins,
      loop: state.loop,
      title: state.title,
      kind: state.kind,
      accepted: state.accepted,
    };
  });
  await client.query(
    `with made as (
       select * from jsonb_to_recordset($1) as m (
         sample_id uuid, sequence integer, after integer, words text, joined_set uuid, tempo_bpm double precision,
         one_seconds double precision, beats_per_bar integer, beat_unit integer, moving_beats double precision[], key_tonic integer,
         key_mode text, key_none boolean, tuning_cents double precision, tags jsonb, note text, rating integer, origin text,
         licence text, chosen jsonb, pins jsonb, loop jsonb, title text, kind text, accepted boolean)),
     abandoned as (
       update revisions r set abandoned = true from made m
        where r.sample_id = m.sample_id and r.sequence > m.after and not r.abandoned)
     insert into revisions (sample_id, sequence, words, made_by, curator_id, change_id, joined_set, version, tempo_bpm, one_seconds,
                            beats_per_bar, beat_unit, moving_beats, key_tonic, key_mode, key_none, tuning_cents, tags, note, rating,
                            origin, licence, chosen, pins, loop, title, kind, accepted)
     select sample_id, sequence, words, case when $3::uuid is null then 'measurement' else 'curator' end, $3, $2, joined_set, ${VERSION},
            tempo_bpm, one_seconds, beats_per_bar, beat_unit, moving_beats, key_tonic, key_mode, key_none, tuning_cents, tags, note,
            rating, origin, licence, chosen, pins, nullif(loop, 'null'), title, kind, accepted
       from made`,
    [JSON.stringify(rows), changeId, curatorId],
  );
}
