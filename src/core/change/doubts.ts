import { listRowOf, type ListRow } from '../library/listRow';
import { proofStateOf } from '../library/proofState';
import { EMPTY_STATE } from '../library/settled';
import { doubtsAbout, needOf, type Doubt } from '../library/needsALook';
import type { Draft } from './draft';
import type { SliceLikeness, SliceSample } from './slice';

/** What a sample is like, as the later one of two; what lies in the bin is not. */
function likeOthers(draft: Draft, sampleId: string, likenesses: readonly SliceLikeness[]): Doubt[] {
  return likenesses
    .filter(
      ({ a, b, aBinned }) => b === sampleId && !(draft.has(a) ? draft.sample(a).binnedAt !== null : aBinned),
    )
    .map(({ a, relation, aName }) => {
      const name = draft.has(a) ? (draft.state(a).title ?? draft.sample(a).arrivedAs) : aName;
      return { sort: 'alike', words: `${relation} as “${name}”`, weight: 0.35 };
    });
}

/**
 * Why a sample needs a look, from all that is known of it now. A curator's acceptance, a proof that stands and the
 * Shelf settle all doubts about values.
 */
function doubtsOf(draft: Draft, sample: SliceSample, isProved: boolean): Doubt[] {
  const { measurement, readings, current, savedAt, warnings } = sample;
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
      accepted: state.accepted || isProved || savedAt !== null,
      tempoChosen: byHand('tempo'),
      keyChosen: byHand('key'),
      inStemSet: draft.sets().some((set) => set.state !== 'refused' && set.members.includes(sample.sampleId)),
    },
  );
  if (warnings.some((words) => !measurement.remarks.includes(words)))
    doubts.push({ sort: 'damaged', words: 'decoded with warnings', weight: 0.6 });
  if (!state?.accepted)
    doubts.push(...sample.offPlan.map((words): Doubt => ({ sort: 'not as planned', words, weight: 0.7 })));
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
