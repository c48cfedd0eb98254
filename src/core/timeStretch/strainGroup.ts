import { ALL_KEYS, keyNumber } from '../harmony/keyNames';
import { proposalFor, PROPOSED, tempoWays, type Fittable, type Target } from './proposal';
import { RATIO_OF_ONE, strainOf } from './strain';

/*
 * The order by strain is asked for at any target, so no store can keep it; what it can keep is which samples every target strains
 * alike. A group is a whole number: the pitch that is moved, and the tempo to 1/400 of an octave (0.17 %), which is less strain than
 * has a word. Tuning is left out: it is less than half a semitone; so is what somebody chose for a single sample.
 */

/** Steps of tempo in an octave. */
const STEPS = 400;
const SLOWEST = 10;
/** By so much tempi differ at most where one is brought to the other: four times, of twice as many beats. */
const FARTHEST = 8;
const TEMPI = 4096;
/** Not moved; 24 keys; 12 roots of one-shots, which have no mode. */
const PITCHES = 1 + 24 + 12;

const stepOf = (tempoBpm: number) => 1 + Math.round(STEPS * Math.log2(tempoBpm / SLOWEST));
const bpmOf = (step: number) => SLOWEST * 2 ** ((step - 1) / STEPS);

type Pitched = Pick<Fittable, 'kind' | 'key' | 'isUnpitched'>;

function pitchOf({ kind, key, isUnpitched }: Pitched): number {
  if (!key || isUnpitched) return 0;
  return kind === 'oneshot' ? 25 + key.tonic : 1 + keyNumber(key);
}

function timeOf({ kind, tempoBpm }: Fittable): number {
  if (kind === 'oneshot' || tempoBpm === null) return 0;
  return Math.min(TEMPI - 1, Math.max(1, stepOf(tempoBpm)));
}

/** The group of a sample: samples of one group are strained alike by every target. */
export const strainGroupOf = (sample: Fittable): number => pitchOf(sample) * TEMPI + timeOf(sample);

/** The group of a sample of which only that is another which says its pitch. */
export const repitchedGroup = (group: number, sample: Pitched): number =>
  pitchOf(sample) * TEMPI + (group % TEMPI);

/** One sample as all of a group are. */
export function sampleOfStrainGroup(group: number): Fittable {
  const step = group % TEMPI;
  const pitch = Math.floor(group / TEMPI);
  const isRoot = pitch > 24;
  return {
    kind: isRoot ? 'oneshot' : 'loop',
    tempoBpm: step === 0 ? null : bpmOf(step),
    bars: 1,
    beatsPerBar: 1,
    key: pitch === 0 ? null : isRoot ? { tonic: pitch - 25, mode: 'major' } : ALL_KEYS[pitch - 1],
    tuningCents: null,
    isUnpitched: false,
  };
}

/**
 * The strain that a target puts on a group, as `proposalFor` says it, to a millionth, so that whoever puts groups in order agrees on
 * what is equal; time and pitch are proposed once for all that have them in common.
 */
export function strainsAt(target: Target): (group: number) => number {
  const ratios = new Map<number, number>();
  const pitches = new Map<number, { semitones: number; ratio: number }>();
  return (group) => {
    const time = group % TEMPI;
    let ratio = ratios.get(time);
    if (ratio === undefined)
      ratios.set(time, (ratio = proposalFor(sampleOfStrainGroup(time), { ...target, key: null }).ratio));
    let pitch = pitches.get(group - time);
    if (!pitch) pitches.set(group - time, (pitch = proposalFor(sampleOfStrainGroup(group - time), target)));
    const strain = strainOf({ ratio: ratio * pitch.ratio, semitones: pitch.semitones }, target.isTape);
    return Math.round(strain * 1e6) / 1e6;
  };
}

/** Groups from one number to before another, all of one strain. */
export interface StrainRange {
  from: number;
  to: number;
  strain: number;
}

/** All groups that a target puts no more strain on than `most`, what is strained least first. */
export function groupsWithin(target: Target, most: number): StrainRange[] {
  const strainAt = strainsAt(target);
  const ranges: StrainRange[] = [];
  const { tempoBpm, isTape } = target;
  // Without a tempo time is never bent: all of a pitch are alike.
  const times = tempoBpm === null ? [[0, TEMPI]] : timesWithin(tempoBpm, isTape ? 2 * most : most);
  for (let pitch = 0; pitch < PITCHES; pitch++) {
    const base = pitch * TEMPI;
    if (strainAt(base) > most) continue;
    for (const [from, to] of times) {
      const strain = strainAt(base + from);
      if (strain <= most) ranges.push({ from: base + from, to: base + to, strain });
    }
  }
  return ranges.sort((a, b) => a.strain - b.strain || a.from - b.from);
}

/** Ranges of times, alike in each: at least all that are strained up to `most` by a tempo. */
function timesWithin(tempoBpm: number, most: number): [from: number, to: number][] {
  const reach = Math.ceil(STEPS * most * Math.log2(RATIO_OF_ONE)) + 1;
  const steps = new Set<number>();
  for (const level of PROPOSED) {
    const middle = stepOf(tempoBpm / level);
    for (let step = middle - reach; step <= middle + reach; step++)
      if (step >= 1 && step < TEMPI) steps.add(step);
  }
  // What is too far away to be bent stays as it is.
  const isFar = (step: number) => tempoWays(bpmOf(step), tempoBpm).length === 0;
  let slowest = Math.max(1, stepOf(tempoBpm / FARTHEST) - 2);
  while (isFar(slowest)) slowest++;
  let fastest = Math.min(TEMPI - 1, stepOf(tempoBpm * FARTHEST) + 2);
  while (isFar(fastest)) fastest--;
  const ranges: [number, number][] = [
    [0, 1],
    [1, slowest],
    [fastest + 1, TEMPI],
    ...[...steps].map((step): [number, number] => [step, step + 1]),
  ];
  return ranges.filter(([from, to]) => from < to);
}
