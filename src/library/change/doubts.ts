import { lightRowOf, listRowOf, type LightRow, type ListRow } from '../samples/listRow';
import { proofStateOf } from '../samples/proofState';
import { EMPTY_STATE } from '@/contract/settled';
import type { Doubt } from '@/contract/doubt';
import { doubtsAbout, needOf } from '../samples/needsALook';
import type { Draft } from './draft';
import type { KeptRow, SliceLikeness, SliceSample } from './slice';

/** What a sample is like, as the later one of two; what lies in the bin is not. */
function likeOthers(draft: Draft, sampleId: string, likenesses: readonly SliceLikeness[]): Doubt[] {
  const alike = likenesses
    .filter(
      ({ a, b, aBinned }) => b === sampleId && !(draft.has(a) ? draft.sample(a).binnedAt !== null : aBinned),
    )
    .map(({ a, relation, aName }) => {
      const name = draft.has(a) ? (draft.state(a).title ?? draft.sample(a).arrivedAs) : aName;
      return { relation, name };
    });
  // However many there are, they are one line.
  return [...new Set(alike.map(({ relation }) => relation))].map((relation): Doubt => {
    const [first, ...others] = alike.filter((one) => one.relation === relation);
    return { code: 'alike', relation, name: first.name, others: others.length, weight: 0.35 };
  });
}

/**
 * Why a sample needs a look, from all that is known of it now. A curator's acceptance and a proof that stands settle all
 * doubts about values; being saved does not, so that the Shelf still tells of them.
 */
function doubtsOf(draft: Draft, sample: SliceSample, isProved: boolean): Doubt[] {
  const { measurement, readings, current, warnings } = sample;
  if (!measurement) return [];
  const standing = readings.filter(({ superseded }) => !superseded);
  const state = current?.state ?? null;
  // Anything but the detector's first choice was chosen by somebody.
  const byHand = (property: 'tempo' | 'key') => {
    const chosen = standing.find(({ readingId }) => readingId === state?.chosen[property]);
    return Boolean(chosen && (chosen.source !== 'detector' || chosen.rank > 0));
  };
  const doubts = doubtsAbout(
    measurement,
    standing,
    state && {
      grid: state.grid,
      key: state.key,
      kind: state.kind,
      accepted: state.accepted || isProved,
      tempoChosen: byHand('tempo'),
      keyChosen: byHand('key'),
      inStemSet: draft.sets().some((set) => set.state !== 'refused' && set.members.includes(sample.sampleId)),
    },
  );
  const proposed = draft
    .sets()
    .find((set) => set.state === 'proposed' && set.members.includes(sample.sampleId));
  if (proposed) doubts.push({ code: 'may be a stem', set: proposed.name, weight: 0.1 });
  if (warnings.length > 0) doubts.push({ code: 'damaged', weight: 0.6 });
  if (!state?.accepted)
    doubts.push(
      ...sample.offPlan.map((fault): Doubt => ({ code: 'not as planned', in: fault, weight: 0.7 })),
    );
  return doubts;
}

/** The row that lists have of a sample, with its standing, its proof and its doubts said anew. */
export function rowOf(draft: Draft, sampleId: string, likenesses: readonly SliceLikeness[]): ListRow {
  const sample = draft.sample(sampleId);
  const { measurement, current, proofs, sha256, fault } = sample;
  const state = current?.state ?? EMPTY_STATE;
  const proof = proofStateOf(proofs, state.grid, sha256);
  const doubts = [
    ...doubtsOf(draft, sample, proof === 'current'),
    ...likeOthers(draft, sampleId, likenesses),
  ];
  return listRowOf({
    ...sample,
    sequence: current?.sequence ?? null,
    state,
    proof,
    doubts,
    need: Math.max(fault ? 1 : 0, measurement ? needOf(measurement, doubts) : 0),
  });
}

/** The same where measurement, readings and proofs were not read, as far as it can be another now. */
export function lightRow(
  draft: Draft,
  sampleId: string,
  kept: KeptRow,
  likenesses: readonly SliceLikeness[],
): LightRow {
  const sample = draft.sample(sampleId);
  const { current, fault, isMeasured } = sample;
  const { proof, tempoSureness, keySureness, strainGroup } = kept;
  const doubts = [
    ...[...kept.doubts, ...kept.todos].filter(({ code }) => code !== 'alike'),
    ...likeOthers(draft, sampleId, likenesses),
  ];
  const sure = (sureness: number | null) => (sureness === null ? null : { sureness });
  const need = isMeasured ? needOf({ tempo: sure(tempoSureness), key: sure(keySureness) }, doubts) : 0;
  return lightRowOf({
    ...sample,
    sequence: current?.sequence ?? null,
    state: current?.state ?? EMPTY_STATE,
    ...{ proof, doubts, strainGroup },
    need: Math.max(fault ? 1 : 0, need),
  });
}
