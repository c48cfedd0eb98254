import {
  figuresProofRequest,
  proofRequest,
  type FiguresProofResult,
  type SampleEntry,
} from '@/core/library/entry';
import { deviations, driftFigures, judgeGrid, proofPlaces } from '@/core/rhythm/drift';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { database, transaction } from '@/store/database';
import { announceSample } from '@/store/notifications';
import { addProof } from '@/store/proofs';
import { readRevision } from '@/store/revisions';
import { readSample } from '@/store/samples';
import { readEntry } from './entry';
import { log } from './log';
import { renewNeed, renewStanding } from './renew';
import { notFound, UserError } from './userError';

/** Records a check against the click: the figures are measured here, the verdict and the name are the curator's. */
export async function prove(sampleId: string, input: unknown): Promise<SampleEntry> {
  const { base, verdict, signedBy, heard } = proofRequest.parse(input);
  await transaction(async (client) => {
    const sample = await readSample(client, sampleId);
    if (!sample?.measurement) throw notFound();
    if (sample.currentSequence !== base)
      throw new UserError('The grid was changed in the meantime; listen again.', 409);
    const grid = (await readRevision(client, sampleId, base))?.state.grid;
    if (!grid) throw new UserError('Without a tempo there is nothing to prove against a click.', 422);
    const places = proofPlaces(sample.measurement.onsets, grid, sample.measurement.durationSeconds).map(
      (place) => {
        const listened = heard.find(({ label }) => label === place.label);
        return { ...place, heard: Boolean(listened), verdict: listened?.verdict ?? null };
      },
    );
    const byEar = places.some((place) => place.heard);
    await addProof(client, sampleId, {
      sequence: base,
      grid,
      audioSha256: sample.sha256,
      places,
      verdict,
      byEar,
      signedBy,
    });
    await renewStanding(client, sampleId);
    await renewNeed(client, sampleId);
    await announceSample(client, { sampleId, what: 'changed' });
  });
  log.info({ event: 'proved', sample: sampleId, verdict, signedBy });
  return readEntry(sampleId);
}

/**
 * Vouches for samples by their figures, without an ear: only for those whose hits lie on their grid from
 * beginning to end. The others are named with what speaks against it.
 */
export async function proveByFigures(input: unknown): Promise<FiguresProofResult> {
  const { sampleIds, signedBy } = figuresProofRequest.parse(input);
  const result: FiguresProofResult = { proved: 0, refused: [] };
  for (const sampleId of sampleIds) {
    const sample = await readSample(database(), sampleId);
    if (!sample) continue;
    const refuse = (why: string) => result.refused.push({ name: sample.name, why });
    const base = sample.currentSequence;
    const grid = base === null ? null : (await readRevision(database(), sampleId, base))?.state.grid;
    if (base === null || !grid || !sample.measurement) {
      refuse('It has no grid.');
      continue;
    }
    const { onsets, durationSeconds } = sample.measurement;
    const bars = (beatPosition(grid, durationSeconds) / feltBeatsPerBar(grid.meter)) | 0;
    const { fault, words } = judgeGrid(driftFigures(deviations(onsets, grid, durationSeconds), grid), bars);
    if (fault !== 'fits') {
      refuse(words);
      continue;
    }
    try {
      await prove(sampleId, { base, verdict: 'on', signedBy, heard: [] });
      result.proved++;
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      refuse(error.message);
    }
  }
  return result;
}
