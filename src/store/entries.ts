import { z } from 'zod';
import { madeBy, revisionEntry, type SampleEntry } from '@/contract/entry';
import { isOf } from '@/library/samples/proofState';
import { EMPTY_STATE } from '@/contract/settled';
import { measurement } from '@/core/measurement/schema';
import type { Queryable } from './database';
import { proofsBySample, proofsJson } from './proofs';
import { readingsBySample, readingsJson } from './readings';
import { REVISION_JSON, revisionOf } from './revisions';
import { fromRow, jsonTime, known } from './rows';
import { MEASUREMENT_VERSION } from './samples';
import { readSummary } from './summaries';

const historyJson = z.array(
  z.object({ ...revisionEntry.shape, madeAt: jsonTime, madeBy: madeBy.nullable() }),
);

/** Everything that the Bench shows of a sample, in two statements; null for an unknown one. */
export async function readEntryOf(on: Queryable, sampleId: string): Promise<SampleEntry | null> {
  const summary = await readSummary(on, sampleId);
  if (!summary) return null;
  const { rows } = await on.query(
    `select x.measurement, x.measurement_version as version, x.warnings,
            (select ${REVISION_JSON} from revisions r where r.sample_id = s.sample_id and r.sequence = s.sequence) as current,
            (select ${REVISION_JSON} from revisions r where r.sample_id = s.sample_id and r.sequence < s.sequence
                and not r.abandoned order by r.sequence desc limit 1) as previous,
            (select ${REVISION_JSON} from revisions r where r.sample_id = s.sample_id and r.sequence > s.sequence
                and not r.abandoned order by r.sequence limit 1) as following,
            ${readingsJson('array[s.sample_id]')} as readings, ${proofsJson('array[s.sample_id]')} as proofs,
            (select coalesce(jsonb_agg(jsonb_build_object('sequence', r.sequence, 'words', r.words, 'madeAt', r.made_at,
                      'abandoned', r.abandoned, 'madeBy', case when r.made_by = 'measurement' then '"measurement"'::jsonb
                        when c.curator_id is not null
                        then jsonb_build_object('curatorId', c.curator_id, 'name', c.name, 'initials', c.initials) end)
                      order by r.sequence), '[]')
               from revisions r left join curators c using (curator_id) where r.sample_id = s.sample_id) as history
       from samples x join settled s using (sample_id) where x.sample_id = $1`,
    [sampleId],
  );
  if (rows.length === 0) return null;
  const [row] = rows;
  known(row.version, MEASUREMENT_VERSION, 'measurement');
  const [current, previous, following] = [row.current, row.previous, row.following].map((revision) =>
    revision ? revisionOf(revision) : null,
  );
  const settled = current?.state ?? EMPTY_STATE;
  const history = fromRow(historyJson, row.history, 'revision');
  return {
    summary,
    warnings: row.warnings,
    measurement: fromRow(measurement.nullable(), row.measurement, 'measurement'),
    readings: readingsBySample(row.readings).get(sampleId) ?? [],
    settled,
    sequence: current?.sequence ?? null,
    undo: current && previous ? { words: current.words, settled: previous.state } : null,
    redo: following ? { words: following.words, settled: following.state } : null,
    history,
    proofs: (proofsBySample(row.proofs).get(sampleId) ?? []).map((proof) => ({
      ...proof,
      current: isOf(proof, settled.grid, summary.sha256),
    })),
  };
}
