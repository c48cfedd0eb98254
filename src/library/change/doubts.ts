import { lightRowOf, listRowOf, type LightRow, type ListRow } from '../samples/listRow';
import { isGridAsMade } from '../samples/asMade';
import { proofStateOf } from '../samples/proofState';
import { isToneless } from '../samples/toneless';
import { EMPTY_STATE } from '@/contract/settled';
import type { Doubt } from '@/contract/doubt';
import { measuredAnew } from '../samples/measuredAnew';
import { doubtsAbout, needOf } from '../samples/needsALook';
import type { ChangeSet } from './changeSet';
import type { KeptRow, SnapshotLikeness, SnapshotSample } from './snapshot';

/** What a sample is like, as the later one of two; what lies in the bin is not. */
function likeOthers(
  changeSet: ChangeSet,
  sampleId: string,
  likenesses: readonly SnapshotLikeness[],
): Doubt[] {
  const alike = likenesses
    .filter(
      ({ a, b, aBinned }) =>
        b === sampleId && !(changeSet.has(a) ? changeSet.sample(a).binnedAt !== null : aBinned),
    )
    .map(({ a, relation, aName }) => {
      const name = changeSet.has(a) ? (changeSet.state(a).title ?? changeSet.sample(a).arrivedAs) : aName;
      return { relation, name };
    });
  // However many there are, they are one line.
  return [...new Set(alike.map(({ relation }) => relation))].map((relation): Doubt => {
    const [first, ...others] = alike.filter((one) => one.relation === relation);
    return { code: 'alike', relation, name: first.name, others: others.length, weight: 0.35 };
  });
}

/**
 * Whether tempo and bars of a sample are still those that it was made with: they are exact by construction, whatever measuring guesses.
 * In what its file is not as planned is told by itself.
 */
function isAsMade({ isMade, readings, current }: SnapshotSample): boolean {
  const { chosen } = current?.state ?? EMPTY_STATE;
  return isMade && (chosen.tempo === undefined || isGridAsMade(readings, chosen));
}

/** Whether a value was chosen by somebody: anything but the detector's first choice. */
function isByHand({ readings, current }: SnapshotSample, property: 'tempo' | 'key'): boolean {
  const id = current?.state.chosen[property];
  const chosen = readings.find(({ readingId, superseded }) => !superseded && readingId === id);
  return Boolean(chosen && (chosen.source !== 'detector' || chosen.rank > 0));
}

/**
 * Why a sample needs a look, from all that is known of it now. A curator's acceptance and a proof that stands settle all
 * doubts about values; being saved does not, so that the Shelf still tells of them.
 */
function doubtsOf(changeSet: ChangeSet, sample: SnapshotSample, isProved: boolean): Doubt[] {
  const { measurement, readings, current, warnings } = sample;
  if (!measurement) return [];
  const standing = readings.filter(({ superseded }) => !superseded);
  const state = current?.state ?? null;
  const doubts = isAsMade(sample)
    ? []
    : doubtsAbout(
        measurement,
        standing,
        state && {
          grid: state.grid,
          key: state.key,
          kind: state.kind,
          accepted: state.accepted || isProved,
          tempoChosen: isByHand(sample, 'tempo'),
          keyChosen: isByHand(sample, 'key'),
          inStemSet: changeSet
            .sets()
            .some((set) => set.state !== 'refused' && set.members.includes(sample.sampleId)),
        },
      );
  const proposed = changeSet
    .sets()
    .find((set) => set.state === 'proposed' && set.members.includes(sample.sampleId));
  if (proposed) doubts.push({ code: 'may be a stem', set: proposed.name, weight: 0.1 });
  if (state && !isAsMade(sample)) doubts.push(...measuredAnew(standing, state));
  if (warnings.length > 0) doubts.push({ code: 'damaged', weight: 0.6 });
  if (!state?.accepted)
    doubts.push(
      ...sample.offPlan.map((fault): Doubt => ({ code: 'not as planned', in: fault, weight: 0.7 })),
    );
  return doubts;
}

/** The row that lists have of a sample, with its standing, its proof and its doubts said again. */
export function rowOf(
  changeSet: ChangeSet,
  sampleId: string,
  likenesses: readonly SnapshotLikeness[],
): ListRow {
  const sample = changeSet.sample(sampleId);
  const { measurement, current, proofs, sha256, fault } = sample;
  const state = current?.state ?? EMPTY_STATE;
  const proof = proofStateOf(proofs, state.grid, sha256);
  const doubts = [
    ...doubtsOf(changeSet, sample, proof === 'current'),
    ...likeOthers(changeSet, sampleId, likenesses),
  ];
  const isSettled = isAsMade(sample) || state.accepted || proof === 'current';
  return listRowOf({
    ...sample,
    isGuess: {
      tempo: !isSettled && !isByHand(sample, 'tempo'),
      key: !isSettled && !isByHand(sample, 'key'),
    },
    sequence: current?.sequence ?? null,
    state,
    proof,
    doubts,
    need: Math.max(fault ? 1 : 0, measurement ? needOf(measurement, doubts) : 0),
    toneless: isToneless({ ...sample, state: current?.state ?? null }),
    madeBars: isAsMade(sample) ? sample.madeBars : null,
  });
}

/** The same where measurement, readings and proofs were not read, as far as it can be another now. */
export function lightRow(
  changeSet: ChangeSet,
  sampleId: string,
  kept: KeptRow,
  likenesses: readonly SnapshotLikeness[],
): LightRow {
  const sample = changeSet.sample(sampleId);
  const { current, fault, isMeasured } = sample;
  const { proof, tempoSureness, keySureness, strainGroup, toneless } = kept;
  const doubts = [
    ...[...kept.doubts, ...kept.todos].filter(({ code }) => code !== 'alike'),
    ...likeOthers(changeSet, sampleId, likenesses),
  ];
  const sure = (sureness: number | null) => (sureness === null ? null : { sureness });
  const need = isMeasured ? needOf({ tempo: sure(tempoSureness), key: sure(keySureness) }, doubts) : 0;
  return lightRowOf({
    ...sample,
    sequence: current?.sequence ?? null,
    state: current?.state ?? EMPTY_STATE,
    ...{ proof, doubts, strainGroup, toneless },
    need: Math.max(fault ? 1 : 0, need),
  });
}
