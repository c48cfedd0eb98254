import { z } from 'zod';
import { madeBy, revisionEntry, type SampleEntry } from '@/core/library/entry';
import { isOf } from '@/core/library/proofState';
import { EMPTY_STATE } from '@/core/library/settled';
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
  const current = row.current ? revisionOf(row.current) : null;
  const settled = current?.state ?? EMPTY_STATE;
  const history = fromRow(historyJson, row.history, 'revision');
  const sequence = current?.sequence ?? null;
  const alive = history.filter((revision) => !revision.abandoned || revision.sequence === sequence);
  const at = alive.findIndex((revision) => revision.sequence === sequence);
  return {
    summary,
    warnings: row.warnings,
    measurement: fromRow(measurement.nullable(), row.measurement, 'measurement'),
    readings: readingsBySample(row.readings).get(sampleId) ?? [],
    settled,
    sequence,
    undoWords: at > 0 ? alive[at].words : null,
    redoWords: at >= 0 && at + 1 < alive.length ? alive[at + 1].words : null,
    history,
    proofs: (proofsBySample(row.proofs).get(sampleId) ?? []).map((proof) => ({
      ...proof,
      current: isOf(proof, settled.grid, summary.sha256),
    })),
  };
}
