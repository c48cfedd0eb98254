import { deviations, driftFigures, judgeGrid, proofPlaces, type GridFault } from '@/core/rhythm/drift';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Order } from '@/contract/orders';
import type { Draft } from './draft';
import { RefusedChange } from './refusal';

type ProveOrder = Extract<Order, { do: 'prove' }>;

/** Records a check against the click: the figures are measured here, the verdict and the name are the curator's. */
export function prove(
  draft: Draft,
  sampleId: string,
  { verdict, heard }: Pick<ProveOrder, 'verdict' | 'heard'>,
) {
  const { who } = draft;
  const { measurement, current, sha256, arrivedAs } = draft.sample(sampleId);
  if (!who?.named) throw new RefusedChange('A proof is signed with a name; say who you are.');
  if (!measurement || !current) throw new RefusedChange(`“${arrivedAs}” is not measured yet.`);
  const { grid } = current.state;
  if (!grid) throw new RefusedChange('Without a tempo there is nothing to prove against a click.');
  const places = proofPlaces(measurement.onsets, grid, measurement.durationSeconds).map((place) => {
    const listened = heard.find(({ label }) => label === place.label);
    return { ...place, heard: Boolean(listened), verdict: listened?.verdict ?? null };
  });
  draft.prove(sampleId, {
    sequence: current.sequence,
    grid,
    audioSha256: sha256,
    places,
    verdict,
    byEar: places.some((place) => place.heard),
    signedBy: who.name,
  });
}

/** What speaks against vouching for a grid by its figures. */
const AGAINST: Record<Exclude<GridFault, 'fits'>, string> = {
  tempo: 'The tempo is off: the hits drift from the click.',
  place: 'The one is off: the hits are early or late everywhere.',
  moving: 'The tempo moves around the grid.',
  loose: 'The hits lie loosely around the grid.',
  unknown: 'Too few hits lie on the grid to judge it.',
};

/**
 * Vouches for a sample by its figures, without an ear: only where its hits lie on the grid from beginning to end.
 * Throws RefusedChange with what speaks against it.
 */
export function proveByFigures(draft: Draft, sampleId: string): void {
  const { measurement } = draft.sample(sampleId);
  const { grid } = draft.state(sampleId);
  if (!grid || !measurement) throw new RefusedChange('It has no grid.');
  const { onsets, durationSeconds } = measurement;
  const bars = Math.floor(beatPosition(grid, durationSeconds) / feltBeatsPerBar(grid.meter));
  const fault = judgeGrid(driftFigures(deviations(onsets, grid, durationSeconds), grid), bars);
  if (fault !== 'fits') throw new RefusedChange(AGAINST[fault]);
  prove(draft, sampleId, { verdict: 'on', heard: [] });
}
