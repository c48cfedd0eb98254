import { planFault } from '@/core/recipes/differences';
import type pg from 'pg';
import { z } from 'zod';
import type { Snapshot, SnapshotSample } from '@/library/change/snapshot';
import { doubt } from '@/contract/doubt';
import { ROW_RULES } from '@/library/samples/listRow';
import { curator, type Curator } from '@/contract/curators';
import { likeness } from '@/contract/likenesses';
import { measurement, sampleKind } from '@/core/measurement/schema';
import { MovedOnError } from './database';
import { proofsBySample, proofsJson } from './proofs';
import { readingsBySample, readingsJson } from './readings';
import { isMade } from './recipes';
import { REVISION_JSON, revisionOf } from './revisions';
import { fromRow, known } from './rows';
import { MEASUREMENT_VERSION } from './samples';

/**
 * Locks the samples and all that changing them may touch: the stems of their sets, and those that are like them and
 * came later. Always in one order, so that two changes never wait for each other. Returns their numbers.
 */
export async function lockSamples(client: pg.PoolClient, sampleIds: readonly string[]): Promise<string[]> {
  const { rows } = await client.query(
    `select s.sample_id as id from settled s
      where s.sample_id = any($1)
         or s.sample_id in (select m.sample_id from stem_set_members mine join stem_sets t using (set_id) join stem_set_members m using (set_id)
                             where mine.sample_id = any($1) and t.state <> 'refused')
         or s.sample_id in (select l.b from likenesses l where l.a = any($1) and l.state = 'open')
      order by s.sample_id for update of s`,
    [sampleIds],
  );
  return rows.map(({ id }) => id);
}

interface Wanted {
  /** The earlier revision that is wanted as `previous`, of every sample; otherwise the one before the present. */
  revision?: number | null;
  /** Measurement, readings and proofs are not read: nothing of them has a part in the change. Where a stem set has, they are all the same. */
  isLight?: boolean;
  /** Whose hand it is; null when nobody's. A number that nobody has means the one who was here first. */
  curatorId?: string | null;
}

const snapshotRow = z.object({
  sampleId: z.uuid(),
  arrivedAs: z.string(),
  folder: z.string(),
  arrivedAt: z.string(),
  sha256: z.string(),
  durationSeconds: z.number().nullable(),
  kind: sampleKind.nullable(),
  fault: z.string().nullable(),
  warnings: z.array(z.string()),
  measurement: z.unknown(),
  isMeasured: z.boolean(),
  kept: z
    .object({
      proof: z.enum(['current', 'lost']).nullable(),
      doubts: z.array(doubt),
      todos: z.array(doubt),
      tempoSureness: z.number().nullable(),
      keySureness: z.number().nullable(),
      strainGroup: z.number(),
      toneless: z.boolean(),
    })
    .nullable(),
  measurementVersion: z.number(),
  mergedInto: z.uuid().nullable(),
  savedAt: z.string().nullable(),
  binnedAt: z.string().nullable(),
  current: z.unknown(),
  previous: z.unknown(),
  following: z.unknown(),
  lastSequence: z.number(),
  byCurator: z.boolean(),
  isMade: z.boolean(),
  madeBars: z.number().nullable(),
  offPlan: z.array(planFault),
});

const surroundings = z.object({
  readings: z.unknown(),
  proofs: z.unknown(),
  sets: z.array(
    z.object({
      setId: z.uuid(),
      name: z.string(),
      state: z.enum(['proposed', 'joined']),
      gridFrom: z.uuid().nullable(),
      keyFrom: z.uuid().nullable(),
      members: z.array(z.uuid()),
    }),
  ),
  likenesses: z.array(
    z.object({
      a: z.uuid(),
      b: z.uuid(),
      relation: likeness.shape.relation,
      aName: z.string(),
      aBinned: z.boolean(),
    }),
  ),
  who: curator.nullable(),
});

/**
 * Reads locked samples with all that a change of them rests on, and who it is that changes them. Throws MovedOnError
 * when a set has grown meanwhile.
 */
export async function readSnapshot(
  client: pg.PoolClient,
  sampleIds: readonly string[],
  { revision = null, curatorId = null, isLight = false }: Wanted = {},
): Promise<{ snapshot: Snapshot; who: Curator | null }> {
  if (isLight && !(await canBeLight(client, sampleIds)))
    return readSnapshot(client, sampleIds, { revision, curatorId });
  const { rows } = await client.query(
    `select s.sample_id as "sampleId", x.name as "arrivedAs", x.folder, s.arrived_at as "arrivedAt", o.sha256,
            x.duration_seconds as "durationSeconds", x.kind, x.fault, x.warnings,
            case when not $3 then x.measurement end as measurement, x.measurement_version as "measurementVersion",
            x.measurement is not null as "isMeasured",
            case when $3 then jsonb_build_object('proof', s.proof, 'doubts', s.doubts, 'todos', s.todos,
              'tempoSureness', s.tempo_sureness, 'keySureness', s.key_sureness, 'strainGroup', s.strain_group, 'toneless', s.toneless) end as kept, x.merged_into as "mergedInto",
            s.saved_at as "savedAt", s.binned_at as "binnedAt",
            (select ${REVISION_JSON} from revisions r where r.sample_id = s.sample_id and r.sequence = s.sequence) as current,
            (select ${REVISION_JSON} from revisions r where r.sample_id = s.sample_id
                and case when $2::integer is null then r.sequence < s.sequence and not r.abandoned else r.sequence = $2 end
              order by r.sequence desc limit 1) as previous,
            (select ${REVISION_JSON} from revisions r
              where r.sample_id = s.sample_id and r.sequence > s.sequence and not r.abandoned order by r.sequence limit 1) as following,
            coalesce((select max(sequence) from revisions r where r.sample_id = s.sample_id), 0) as "lastSequence",
            exists (select from revisions r where r.sample_id = s.sample_id and r.made_by = 'curator') as "byCurator",
            ${isMade('s.sample_id')} as "isMade",
            coalesce((select (p.planned ->> 'bars')::integer from recipes p where p.sample_id = s.sample_id),
                     (select (m.planned ->> 'bars')::integer from mixes m where m.sample_id = s.sample_id)) as "madeBars",
            coalesce((select differences -> 'faults' from recipes p where p.sample_id = s.sample_id), '[]') as "offPlan"
       from settled s join samples x using (sample_id) join originals o using (original_id)
      where s.sample_id = any($1)`,
    [sampleIds, revision, isLight],
  );
  const read = isLight ? [] : sampleIds;
  const { rows: beside } = await client.query(
    `select ${readingsJson('$3')} as readings, ${proofsJson('$3')} as proofs,
            (select coalesce(jsonb_agg(jsonb_build_object('setId', t.set_id, 'name', t.name, 'state', t.state,
                      'gridFrom', t.grid_from, 'keyFrom', t.key_from, 'members', m.members)), '[]')
               from stem_sets t, lateral (
                 select jsonb_agg(m.sample_id order by x.arrived_at, x.name) as members
                   from stem_set_members m join samples x using (sample_id) where m.set_id = t.set_id) m
              where t.state <> 'refused' and t.set_id in (select set_id from stem_set_members where sample_id = any($1))) as sets,
            (select coalesce(jsonb_agg(jsonb_build_object('a', l.a, 'b', l.b, 'relation', l.relation,
                      'aName', a.name, 'aBinned', a.binned_at is not null) order by a.arrived_at), '[]')
               from likenesses l join settled a on a.sample_id = l.a
              where l.b = any($1) and l.state = 'open') as likenesses,
            (select jsonb_build_object('curatorId', curator_id, 'name', name, 'initials', initials, 'named', named) from curators
              where $2::uuid is not null order by curator_id = $2 desc, made_at, curator_id limit 1) as who`,
    [sampleIds, curatorId, read],
  );
  const { readings, proofs, sets, likenesses, who } = fromRow(
    surroundings,
    beside[0],
    'surrounding of samples',
  );
  const isLocked = new Set(sampleIds);
  if (sets.some(({ members }) => members.some((id) => !isLocked.has(id))))
    throw new MovedOnError('a stem set has grown since its stems were locked');
  const readingsOf = readingsBySample(readings);
  const proofsOf = proofsBySample(proofs);
  const samples = rows.map((row): [string, SnapshotSample] => {
    const { measurementVersion, ...sample } = fromRow(snapshotRow, row, 'sample');
    known(measurementVersion, MEASUREMENT_VERSION, 'measurement');
    return [
      sample.sampleId,
      {
        ...sample,
        measurement: measurementOf(sample.measurement),
        current: sample.current ? revisionOf(sample.current) : null,
        previous: sample.previous ? revisionOf(sample.previous) : null,
        following: sample.following ? revisionOf(sample.following) : null,
        readings: readingsOf.get(sample.sampleId) ?? [],
        proofs: proofsOf.get(sample.sampleId) ?? [],
      },
    ];
  });
  return { snapshot: { samples: new Map(samples), sets, likenesses }, who };
}

function measurementOf(json: unknown): SnapshotSample['measurement'] {
  return json === null ? null : fromRow(measurement, json, 'measurement');
}

/** Whether rows say all that a light change needs: by the present rules, and no stem set ties them to each other. */
async function canBeLight(client: pg.PoolClient, sampleIds: readonly string[]): Promise<boolean> {
  const { rows } = await client.query(
    `select not exists (select from settled where sample_id = any($1) and said_by <> $2)
        and not exists (select from stem_set_members m join stem_sets t using (set_id)
                         where m.sample_id = any($1) and t.state <> 'refused') as can`,
    [sampleIds, ROW_RULES],
  );
  return rows[0].can;
}
