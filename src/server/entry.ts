import type { SampleEntry } from '@/core/library/entry';
import { EMPTY_STATE } from '@/core/library/settled';
import { database } from '@/store/database';
import { proofsOf } from '@/store/proofs';
import { readingsOf } from '@/store/readings';
import { readRevision, revisionHistory } from '@/store/revisions';
import { readSample, readSummary } from '@/store/samples';
import { notFound } from './userError';

/** Everything that the Bench shows of a sample. Throws UserError for an unknown one. */
export async function readEntry(sampleId: string): Promise<SampleEntry> {
  const on = database();
  const [summary, sample] = await Promise.all([readSummary(on, sampleId), readSample(on, sampleId)]);
  if (!summary || !sample) throw notFound();
  const sequence = sample.currentSequence;
  const settled =
    sequence === null ? EMPTY_STATE : ((await readRevision(on, sampleId, sequence))?.state ?? EMPTY_STATE);
  const [readings, history, proofs] = await Promise.all([
    readingsOf(on, sampleId),
    revisionHistory(on, sampleId),
    proofsOf(on, sampleId, settled.grid, sample.sha256),
  ]);
  const alive = history.filter((revision) => !revision.abandoned || revision.sequence === sequence);
  const at = alive.findIndex((revision) => revision.sequence === sequence);
  // Every part was parsed where it was read: a long song's thousands of hits are not gone through again.
  return {
    summary,
    warnings: sample.warnings,
    measurement: sample.measurement,
    readings,
    settled,
    sequence,
    undoWords: at > 0 ? alive[at].words : null,
    redoWords: at >= 0 && at + 1 < alive.length ? alive[at + 1].words : null,
    history,
    proofs,
  };
}
