import type pg from 'pg';
import { doubtsAbout, needOf, type Doubt } from '@/core/readings/needsALook';
import { openLikenesses } from '@/store/likenesses';
import { proofsOf } from '@/store/proofs';
import { readingsOf } from '@/store/readings';
import { readRevision } from '@/store/revisions';
import { setOfSample } from '@/store/stemSets';
import { readSample, readSummary, setStanding, writeNeed } from '@/store/samples';

/**
 * Says anew why a sample needs a look, from all that is known of it now: called after everything that may
 * settle a doubt or raise one. A curator's acceptance, a proof that stands and the Shelf settle all doubts
 * about values.
 */
export async function renewNeed(client: pg.PoolClient, sampleId: string): Promise<void> {
  const sample = await readSample(client, sampleId);
  if (!sample) return;
  const { measurement, currentSequence } = sample;
  const doubts: Doubt[] = [];
  let need = sample.fault ? 1 : 0;
  if (measurement) {
    const readings = (await readingsOf(client, sampleId)).filter(({ superseded }) => !superseded);
    const state =
      currentSequence === null ? null : (await readRevision(client, sampleId, currentSequence))?.state;
    const proofs = await proofsOf(client, sampleId, state?.grid ?? null, sample.sha256);
    const proved = proofs.find(({ current }) => current)?.verdict === 'on';
    const sourceOf = (property: 'tempo' | 'key') =>
      readings.find(({ readingId }) => readingId === state?.chosen[property]);
    // Anything but the detector's first choice was chosen by somebody.
    const byHand = (property: 'tempo' | 'key') => {
      const chosen = sourceOf(property);
      return Boolean(chosen && (chosen.source !== 'detector' || chosen.rank > 0));
    };
    doubts.push(
      ...doubtsAbout(
        measurement,
        readings,
        state
          ? {
              grid: state.grid,
              key: state.key,
              accepted: state.accepted || proved || sample.standing === 'saved',
              tempoChosen: byHand('tempo'),
              keyChosen: byHand('key'),
              inStemSet: (await setOfSample(client, sampleId)) !== null,
            }
          : null,
      ),
    );
    if (sample.warnings.some((words) => !measurement.remarks.includes(words)))
      doubts.push({ sort: 'damaged', words: 'decoded with warnings', weight: 0.6 });
    need = Math.max(need, needOf(measurement, doubts));
  }
  for (const { relation, name } of await openLikenesses(client, sampleId))
    doubts.push({ sort: 'alike', words: `${relation} as “${name}”`, weight: 0.35 });
  if (measurement) need = Math.max(need, needOf(measurement, doubts));
  await writeNeed(client, sampleId, doubts, need);
}

/** A sample is proved as long as its newest proof says "on" for exactly its grid and audio. Saved ones stay saved. */
export async function renewStanding(client: pg.PoolClient, sampleId: string): Promise<void> {
  const [summary, sample] = await Promise.all([readSummary(client, sampleId), readSample(client, sampleId)]);
  if (!summary || !sample || summary.standing === 'arrived' || summary.standing === 'saved') return;
  const state =
    sample.currentSequence === null
      ? null
      : (await readRevision(client, sampleId, sample.currentSequence))?.state;
  const proofs = await proofsOf(client, sampleId, state?.grid ?? null, sample.sha256);
  const newest = proofs.find((proof) => proof.current);
  await setStanding(client, sampleId, newest?.verdict === 'on' ? 'proved' : 'measured');
}
