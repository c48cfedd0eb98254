import { deviations, driftFigures, judgeGrid, proofPlaces } from '@/core/rhythm/drift';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Order } from '@/contract/orders';
import type { ChangeSet } from './changeSet';
import { RefusedChange } from './refusal';

type ProveOrder = Extract<Order, { do: 'prove' }>;

/** Records a check against the click: the figures are measured here, the verdict and the name are the curator's. */
export function prove(
  changeSet: ChangeSet,
  sampleId: string,
  { verdict, heard }: Pick<ProveOrder, 'verdict' | 'heard'>,
) {
  const { who } = changeSet;
  const { measurement, current, sha256, arrivedAs } = changeSet.sample(sampleId);
  if (!who?.named) throw new RefusedChange({ code: 'no name to sign with' });
  if (!measurement || !current)
    throw new RefusedChange({ code: 'not measured yet', name: arrivedAs, what: 'settle' });
  const { grid } = current.state;
  if (!grid) throw new RefusedChange({ code: 'nothing to prove' });
  const places = proofPlaces(measurement.onsets, grid, measurement.durationSeconds).map((place) => {
    const listened = heard.find(({ label }) => label === place.label);
    return { ...place, heard: Boolean(listened), verdict: listened?.verdict ?? null };
  });
  if (verdict === 'on') changeSet.supersede(sampleId, 'newer measurement');
  changeSet.prove(sampleId, {
    sequence: current.sequence,
    grid,
    audioSha256: sha256,
    places,
    verdict,
    byEar: places.some((place) => place.heard),
    signedBy: who.name,
  });
}

/**
 * Vouches for a sample by its figures, without an ear: only where its hits lie on the grid from beginning to end.
 * Throws RefusedChange with what speaks against it.
 */
export function proveByFigures(changeSet: ChangeSet, sampleId: string): void {
  const { measurement } = changeSet.sample(sampleId);
  const { grid } = changeSet.state(sampleId);
  if (!grid || !measurement) throw new RefusedChange({ code: 'no grid' });
  const { onsets, durationSeconds } = measurement;
  const bars = Math.floor(beatPosition(grid, durationSeconds) / feltBeatsPerBar(grid.meter));
  const figures = driftFigures(deviations(onsets, grid, durationSeconds), grid);
  const fault = judgeGrid(figures, bars, measurement.character?.attackMs ?? 0);
  if (fault !== 'fits') throw new RefusedChange({ code: 'grid does not fit', fault, figures });
  prove(changeSet, sampleId, { verdict: 'on', heard: [] });
}
