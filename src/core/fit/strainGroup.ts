import { ALL_KEYS, keyNumber } from '../harmony/keyNames';
import { proposalFor, type Fittable, type Target } from './proposal';
import { strainOf } from './strain';

/*
 * The order by strain is asked for at any target, so no store can keep it; what it can keep is which samples every target strains
 * alike. A group is a whole number: in which levels the beats of what goes round stay whole, the pitch that is moved, and the tempo to
 * 1/400 of an octave (0.17 %), which is less strain than has a word. Tuning is left out: the strain of half a semitone.
 */

/** Steps of tempo in an octave. */
const STEPS = 400;
const SLOWEST = 10;
const TEMPI = 4096;
/** Not moved; 24 keys; 12 roots of one-shots, which have no mode. */
const PITCHES = 1 + 24 + 12;
/** A beat count by which levels of three against two keep it whole: none, up, down, both. */
const BEATS = [1, 2, 3, 6] as const;

const tempoOf = (step: number) => SLOWEST * 2 ** ((step - 1) / STEPS);

/** The group of a sample: samples of one group are strained alike by every target. */
export function strainGroupOf({
  kind,
  tempoBpm,
  bars,
  beatsPerBar,
  key,
}: Omit<Fittable, 'isUnpitched'>): number {
  const isOneShot = kind === 'oneshot';
  let pitch = 0;
  if (key) pitch = isOneShot ? 25 + key.tonic : 1 + keyNumber(key);
  if (isOneShot || tempoBpm === null) return pitch * TEMPI;
  const step = 1 + Math.round(STEPS * Math.log2(tempoBpm / SLOWEST));
  const beats = kind === 'loop' && bars !== null && beatsPerBar !== null ? bars * beatsPerBar : 1;
  const whole = BEATS.findLastIndex((divisor) => beats % divisor === 0);
  return (Math.max(0, whole) * PITCHES + pitch) * TEMPI + Math.min(TEMPI - 1, Math.max(1, step));
}

/** One sample as all of a group are. */
export function sampleOfStrainGroup(group: number): Fittable {
  const step = group % TEMPI;
  const pitch = Math.floor(group / TEMPI) % PITCHES;
  const isRoot = pitch > 24;
  return {
    kind: isRoot ? 'oneshot' : 'loop',
    tempoBpm: step === 0 ? null : tempoOf(step),
    bars: BEATS[Math.floor(group / TEMPI / PITCHES)],
    beatsPerBar: 1,
    key: pitch === 0 ? null : isRoot ? { tonic: pitch - 25, mode: 'major' } : ALL_KEYS[pitch - 1],
    tuningCents: null,
    isUnpitched: false,
  };
}

/**
 * The strain that a target puts on a group, as `proposalFor` says it; time and pitch are each proposed once for all groups that have
 * them in common. `isUnpitched`: the pitch of these is never moved.
 */
export function strainsAt(target: Target): (group: number, isUnpitched: boolean) => number {
  const times = new Map<number, number>();
  const pitches = new Map<number, { semitones: number; ratio: number }>();
  return (group, isUnpitched) => {
    const pitched = isUnpitched ? 0 : Math.floor(group / TEMPI) % PITCHES;
    const timed = group - (Math.floor(group / TEMPI) % PITCHES) * TEMPI;
    let time = times.get(timed);
    if (time === undefined)
      times.set(timed, (time = proposalFor(sampleOfStrainGroup(timed), { ...target, key: null }).ratio));
    let pitch = pitches.get(pitched);
    if (!pitch) pitches.set(pitched, (pitch = proposalFor(sampleOfStrainGroup(pitched * TEMPI), target)));
    return strainOf({ ratio: time * pitch.ratio, semitones: pitch.semitones }, target.isTape);
  };
}
