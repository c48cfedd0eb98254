import { shortKey, type Key } from '../harmony/keyNames';
import type { SampleKind } from '../measurement/schema';
import { strainOf, strainWord, type StrainWord } from './strain';

/** The tempo and the key that everything is played at; null: each its own. */
export interface Target {
  tempoBpm: number | null;
  key: Key | null;
  /** Pitch and speed go together, with pitch following speed's do. */
  isTape: boolean;
}

/** A target as a name that choices are kept under: "96 Em", "120 tape". */
export const targetKey = ({ tempoBpm, key, isTape }: Target): string =>
  [tempoBpm === null ? '' : Math.round(tempoBpm * 1000) / 1000, key && shortKey(key), isTape && 'tape']
    .filter(Boolean)
    .join(' ');

/** What of a sample says how it is fitted. */
export interface Fittable {
  kind: SampleKind | null;
  tempoBpm: number | null;
  bars: number | null;
  /** Felt beats in a bar. */
  beatsPerBar: number | null;
  key: Key | null;
  /** How far it is tuned from A = 440 Hz. */
  tuningCents: number | null;
  /** It is struck, or noise: its pitch is never moved. */
  isUnpitched: boolean;
}

/** Parts that are not shifted, whatever key their noise may have. */
const UNPITCHED_PARTS: readonly string[] = ['drums', 'percussion'];

/** Whether tags say that a sample has no pitch to be moved. */
export const isUnpitched = (tags: readonly { facet: string; value: string }[]) =>
  tags.some(({ facet, value }) => facet === 'part' && UNPITCHED_PARTS.includes(value));

/** How many beats of the target one of the sample becomes: as it is written, twice, half, and three against two. */
export const LEVELS = [1, 2, 0.5, 1.5, 2 / 3] as const;
export type Level = (typeof LEVELS)[number];
/** Three against two makes another rhythm of a sample: it is taken only where somebody asks for it. */
export const PROPOSED: readonly Level[] = [1, 2, 0.5];
/** So much less strain another level has to have before it is taken: the written one is what was settled. */
const LEVEL_COST: Readonly<Record<Level, number>> = {
  1: 0,
  2: 0.25,
  0.5: 0.25,
  1.5: 0.8,
  [2 / 3]: 0.8,
};
/** The farthest that time is bent. */
const MOST = 4;

export interface TempoWay {
  level: Level;
  /** Length of the result by that of the sample. */
  ratio: number;
}

/** Levels that keep so many beats whole, as what loops needs it: three against two does only now and then. */
export const wholeLevels = (beats: number | null): Level[] =>
  LEVELS.filter(
    (level) =>
      PROPOSED.includes(level) ||
      (beats !== null && Math.abs(beats * level - Math.round(beats * level)) < 1e-9),
  );

/**
 * The ways of bringing a tempo to another by some levels, what strains least first. None is bent beyond a quarter or four times.
 */
export function tempoWays(from: number, to: number, levels: readonly Level[] = PROPOSED): TempoWay[] {
  const cost = ({ ratio, level }: TempoWay) => strainOf({ ratio, semitones: 0 }) + LEVEL_COST[level];
  return levels
    .map((level) => ({ level, ratio: (level * from) / to }))
    .filter(({ ratio }) => ratio <= MOST && ratio >= 1 / MOST)
    .sort((a, b) => cost(a) - cost(b));
}

/** What somebody chose for a sample at a target; null: what is proposed. */
export interface Choice {
  level: Level | null;
  semitones: number | null;
}
export const NO_CHOICE: Choice = { level: null, semitones: null };

export interface KeyWay {
  /** −11 … 11. */
  semitones: number;
  /** Its tonic becomes the target's; or, where their modes differ, it has the same notes afterwards, or the same tonic. */
  becomes: 'the key' | 'the relative key' | 'the same tonic';
}

/** Semitones from one pitch class to another, both ways, the smaller first. */
function bothWays(from: number, to: number): number[] {
  const up = (((to - from) % 12) + 12) % 12;
  if (up === 0) return [0];
  return up <= 6 ? [up, up - 12] : [up - 12, up];
}

/** The ways of bringing a key to another: the smaller move first; where the modes differ, the same notes before the same tonic. */
export function keyWays(from: Key, to: Key): KeyWay[] {
  const ways = (tonic: number, becomes: KeyWay['becomes']) =>
    bothWays(from.tonic, tonic).map((semitones) => ({ semitones, becomes }));
  if (from.mode === to.mode) return ways(to.tonic, 'the key');
  const relative = from.mode === 'minor' ? to.tonic + 9 : to.tonic + 3;
  return [...ways(relative % 12, 'the relative key'), ...ways(to.tonic, 'the same tonic')];
}

/** How many beats a loop has; null for what does not loop, or is not measured so far. */
const beatsOf = ({ kind, bars, beatsPerBar }: Fittable) =>
  kind === 'loop' && bars !== null && beatsPerBar !== null ? bars * beatsPerBar : null;

/** What a target does to a sample. */
export interface Proposal {
  level: Level;
  /** Length of the result by that of the sample; the tempo goes the other way. */
  ratio: number;
  /** The tempo that it is brought to; null: it keeps its own, or what its speed makes of it. */
  tempoBpm: number | null;
  /** Whole ones; with a tape, what its speed comes to. */
  semitones: number;
  becomes: KeyWay['becomes'] | null;
  /** The other way to the same key, or null. */
  otherWay: number | null;
  /** Every level that its tempo can be brought by, what is proposed first. */
  levels: Level[];
  /** What its tuning is moved by. */
  cents: number;
  /** How many bars of the target it is long, where it is whole bars. */
  bars: number | null;
  strain: number;
  word: StrainWord;
  /** Why something is left as it is, in words. */
  remarks: string[];
}

/**
 * What a target does to a sample: time by the level that strains least, pitch by the smaller move, unless somebody chose otherwise.
 * One-shots are not stretched, what has no pitch is not shifted, and what has no tempo or key keeps its own.
 */
export function proposalFor(sample: Fittable, target: Target, choice: Choice = NO_CHOICE): Proposal {
  const remarks: string[] = [];
  let way: TempoWay | null = null;
  let levels: Level[] = [];
  if (target.tempoBpm !== null) {
    if (sample.kind === 'oneshot') remarks.push('a one-shot is not stretched');
    else if (sample.tempoBpm === null) remarks.push('it has no tempo');
    else {
      const ways = tempoWays(sample.tempoBpm, target.tempoBpm);
      const chosen = tempoWays(sample.tempoBpm, target.tempoBpm, LEVELS).filter(
        ({ level }) => level === choice.level,
      );
      const best = chosen.at(0) ?? ways.at(0);
      if (best) way = best;
      else remarks.push('its tempo is more than four times away');
      const whole = wholeLevels(beatsOf(sample));
      const others = tempoWays(
        sample.tempoBpm,
        target.tempoBpm,
        LEVELS.filter((one) => whole.includes(one)),
      );
      levels = [...new Set([...ways, ...others].map(({ level }) => level))];
    }
  }
  let key: KeyWay | null = null;
  let otherWay: number | null = null;
  if (target.key !== null) {
    if (sample.isUnpitched) remarks.push('it has no pitch that could be moved');
    else if (sample.key === null) remarks.push('it has no key');
    else if (target.isTape && target.tempoBpm !== null) remarks.push('pitch follows speed');
    else {
      // A one-shot has a root, which becomes the tonic whatever the mode.
      const { mode } = sample.kind === 'oneshot' ? target.key : sample.key;
      const ways = keyWays({ tonic: sample.key.tonic, mode }, target.key);
      key = ways.find(({ semitones }) => semitones === choice.semitones) ?? ways[0];
      otherWay = ways.find((one) => one.becomes === key?.becomes && one !== key)?.semitones ?? null;
    }
  }
  const isTuned = key !== null && !target.isTape;
  const cents = isTuned && sample.tuningCents ? -Math.round(sample.tuningCents) : 0;
  let semitones = key?.semitones ?? 0;
  let ratio = way?.ratio ?? 1;
  const level = way?.level ?? 1;
  if (target.isTape) {
    if (target.tempoBpm === null) ratio = 2 ** (-semitones / 12);
    else semitones = ratio === 1 ? 0 : -12 * Math.log2(ratio);
  }
  const bars = sample.bars !== null && sample.tempoBpm !== null ? sample.bars * level : null;
  const strain = strainOf({ ratio, semitones: semitones + cents / 100 }, target.isTape);
  return {
    tempoBpm: way ? target.tempoBpm : null,
    ...{ level, ratio, semitones, becomes: key?.becomes ?? null, otherWay, levels, cents, remarks },
    bars: bars !== null && bars >= 1 && Number.isInteger(bars) ? bars : null,
    ...{ strain, word: strainWord(strain) },
  };
}
