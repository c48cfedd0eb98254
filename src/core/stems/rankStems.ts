import type { Measurement } from '../measurement/schema';
import { pitchClassOf, type Key } from '../harmony/keyNames';
import { measuredGrid } from '../measurement/measuredGrid';
import { readPart } from '../readings/nameReading';
import { tempoRelation } from '../readings/tempoRelation';
import { feltBeatsPerBar, type Grid } from '../rhythm/grid';

/** A stem with how well it may speak for its set, and why. */
export interface RankedStem {
  id: string;
  score: number;
  reasons: string[];
}

interface Stem {
  id: string;
  name: string;
  measurement: Measurement;
}

/** Ones that lie nearer to each other, within a beat or a bar, are the same; seconds. */
const SAME_ONE = 0.05;
/** What the others say weighs so much against how clear a stem is by itself: most of them agreeing outweigh the clearest. */
const AGREEMENT = { grid: 2, key: 1 } as const;

/**
 * How far two measured grids agree: 0 where their tempi differ or their beats stand beside each other, 0.5 where only the beats meet,
 * 1 where the bars meet as well.
 */
function gridsAgree(a: Grid, b: Grid): number {
  if (!tempoRelation(a.tempoBpm, b.tempoBpm).agrees) return 0;
  const meets = (period: number) => {
    const apart = a.one - b.one;
    return Math.abs(apart - period * Math.round(apart / period)) < SAME_ONE;
  };
  // The shorter of two beats may lie between those of the other.
  const beat = 60 / Math.max(a.tempoBpm, b.tempoBpm);
  if (!meets(beat)) return 0;
  return meets(Math.min(barOf(a), barOf(b))) ? 1 : 0.5;
}

const barOf = ({ meter, tempoBpm }: Grid) => (60 * feltBeatsPerBar(meter)) / tempoBpm;

/** How far two keys agree: 1 the same, 0.5 the same notes. */
function keysAgree(a: Key, b: Key): number {
  if (a.tonic === b.tonic && a.mode === b.mode) return 1;
  const [minor, major] = a.mode === 'minor' ? [a, b] : [b, a];
  return a.mode !== b.mode && (minor.tonic + 3) % 12 === major.tonic ? 0.5 : 0;
}

/** The share of the others, by how clear they are, that agree with each; null where there is nobody to agree. */
function agreed<T>(
  all: readonly { told: T | null; score: number }[],
  agree: (a: T, b: T) => number,
): (number | null)[] {
  return all.map(({ told }, i) => {
    const others = all.filter((other, k) => k !== i && other.told !== null && other.score > 0);
    const weight = others.reduce((sum, { score }) => sum + score, 0);
    if (told === null || weight === 0) return null;
    return others.reduce((sum, other) => sum + other.score * agree(told, other.told!), 0) / weight;
  });
}

/** How clearly each stem tells the rhythm, and how many others bear it out, the first gives the set its grid. */
export function rankForGrid(stems: readonly Stem[]): RankedStem[] {
  const judged = judge(stems, ({ name, measurement }, say) => {
    const { tempo, onsets, durationSeconds, kind } = measurement;
    if (!tempo) {
      say('no tempo found');
      return 0;
    }
    let score = tempo.sureness;
    say(`tempo ${Math.round(tempo.sureness * 100)} % sure`);
    if (measurement.theOneSureness !== null) {
      score += 0.5 * measurement.theOneSureness;
      say(`the one ${Math.round(measurement.theOneSureness * 100)} % sure`);
    }
    if (tempo.steady) score += 0.2;
    const strong = onsets.filter(({ strength }) => strength > 3).length / durationSeconds;
    score += Math.min(0.6, 0.15 * strong);
    say(`${strong.toFixed(1)} clear hits a second`);
    const { part } = readPart(name);
    if (part === 'drums' || part === 'percussion') {
      score += 0.5;
      say(`named ${part}`);
    }
    const late = onsets.length ? onsets[0].time / durationSeconds : 1;
    if (late > 0.1) {
      score -= 0.5 * late;
      say('begins late');
    }
    return kind === 'oneshot' ? score / 2 : score;
  });
  const told = judged.map(({ stem, score }) => ({ told: measuredGrid(stem.measurement), score }));
  return ranked(judged, agreed(told, gridsAgree), AGREEMENT.grid, 'grid');
}

/** How clearly each stem tells the key, and how many others bear it out, the first gives it: drums and noise come last. */
export function rankForKey(stems: readonly Stem[]): RankedStem[] {
  const judged = judge(stems, ({ name, measurement }, say) => {
    const { key, character } = measurement;
    if (!key) {
      say('not enough lasting tone');
      return 0;
    }
    let score = key.sureness;
    say(`key ${Math.round(key.sureness * 100)} % sure`);
    if (character) score += 0.3 * Math.max(0, 1 - character.flatness * 3);
    const { part } = readPart(name);
    if (part === 'chords' || part === 'pad') {
      score += 0.3;
      say(`named ${part}`);
    } else if (part === 'drums' || part === 'percussion' || part === 'effect') {
      score -= 0.6;
      say(`named ${part}`);
    } else if (part === 'bass') {
      score -= 0.05;
    }
    return Math.max(0.01, score);
  });
  const told = judged.map(({ stem, score }) => ({ told: measuredKey(stem.measurement), score }));
  return ranked(judged, agreed(told, keysAgree), AGREEMENT.key, 'key');
}

/** The key that a measurement says; null where it has none. */
export function measuredKey({ key }: Measurement): Key | null {
  const tonic = key && pitchClassOf(key.tonic);
  return key && tonic !== null ? { tonic, mode: key.mode } : null;
}

interface Judged {
  stem: Stem;
  score: number;
  reasons: string[];
}

function judge(
  stems: readonly Stem[],
  scoreOf: (stem: Stem, say: (reason: string) => void) => number,
): Judged[] {
  return stems.map((stem) => {
    const reasons: string[] = [];
    return { stem, score: scoreOf(stem, (reason) => reasons.push(reason)), reasons };
  });
}

function ranked(
  judged: readonly Judged[],
  shares: readonly (number | null)[],
  weight: number,
  what: 'grid' | 'key',
): RankedStem[] {
  return judged
    .map(({ stem: { id }, score, reasons }, i) => {
      const share = shares[i];
      // A stem that tells nothing is not borne out by anybody.
      if (share === null || score <= 0) return { id, score, reasons };
      const percent = Math.round(100 * share);
      const words = percent === 0 ? `no other stem has this ${what}` : `${percent} % of the others agree`;
      return { id, score: score + weight * share, reasons: [words, ...reasons] };
    })
    .sort((a, b) => b.score - a.score);
}
