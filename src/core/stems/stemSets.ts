import { readPart, type NamedPart } from '../readings/nameReading';
import { tempoRelation } from '../readings/tempoRelation';

/** What is known of a sample that may be a stem of a piece. */
export interface StemCandidate {
  id: string;
  name: string;
  folder: string;
  durationSeconds: number;
  tempoBpm: number | null;
  /** Onset strength in equal steps, about ten a second; what stems of one piece have in common is when they play. */
  envelope: Float32Array;
}

export interface StemSetProposal {
  ids: string[];
  name: string;
  /** Why, in words for the curator. */
  reasons: string[];
}

/** Files of one piece are cut together: their ends agree to a coder's frame, seconds. */
const SAME_LENGTH = 0.03;
/** … and mostly to the sample. */
const VERY_SAME_LENGTH = 0.0005;
/** Loops are often as long as others of their tempo; recordings of this length are not by chance. */
const TELLING_SECONDS = 12;
/** Shorter ones are cuts, whatever they are named. */
const SHORTEST_STEM = 4;
/** What plays so much together is one recording twice: in another coding, or at another rate. */
const SAME_SOUND = 0.93;
/** Words that any recording is named by: two that share them need not be of one piece. */
const SAYS_NOTHING = new Set(
  'song track tune music audio sound sample untitled unnamed new project prod session rec recording master mix demo file piece'.split(
    ' ',
  ),
);
/** Evidence that two files belong together, in the sum. */
const ENOUGH = 4;

/**
 * Finds stems of one piece among samples: files of the same folder and length whose names share the piece or
 * name different parts, and that play together. What looks like a copy of another is no second stem.
 */
export function findStemSets(all: readonly StemCandidate[]): StemSetProposal[] {
  const candidates = all.filter(({ durationSeconds }) => durationSeconds >= SHORTEST_STEM);
  const parts = new Map(candidates.map((one) => [one.id, readPart(one.name)]));
  const common = commonWords(candidates, parts);
  const group = new Map(candidates.map(({ id }) => [id, id]));
  const rootOf = (id: string): string => {
    const up = group.get(id)!;
    return up === id ? id : rootOf(up);
  };
  const sorted = [...candidates].sort((a, b) => a.durationSeconds - b.durationSeconds);
  const linked: { a: StemCandidate; b: StemCandidate; why: string[] }[] = [];
  sorted.forEach((a, i) => {
    for (let j = i + 1; j < sorted.length; j++) {
      const b = sorted[j];
      if (b.durationSeconds - a.durationSeconds > SAME_LENGTH) break;
      if (a.folder !== b.folder) continue;
      const { evidence, why } = belongTogether(a, b, parts.get(a.id)!, parts.get(b.id)!, common);
      if (evidence < ENOUGH) continue;
      linked.push({ a, b, why });
      group.set(rootOf(a.id), rootOf(b.id));
    }
  });
  const sets = new Map<string, StemCandidate[]>();
  for (const { a, b } of linked)
    for (const one of [a, b]) {
      const members = sets.get(rootOf(one.id)) ?? [];
      if (!members.includes(one)) members.push(one);
      sets.set(rootOf(one.id), members);
    }
  return [...sets.values()].map((members) => {
    const counted = new Map<string, number>();
    for (const { a, why } of linked)
      if (members.includes(a)) for (const words of why) counted.set(words, (counted.get(words) ?? 0) + 1);
    return {
      ids: members.map(({ id }) => id),
      name: nameOfPiece(members, parts),
      reasons: [...counted].sort((x, y) => y[1] - x[1]).map(([words]) => words),
    };
  });
}

/** Words that many files of a folder bear, whatever their length: they name a pack, not a piece. */
function commonWords(candidates: readonly StemCandidate[], parts: ReadonlyMap<string, NamedPart>) {
  const lengths = new Map<string, Set<number>>();
  for (const { id, folder, durationSeconds } of candidates)
    for (const word of new Set(parts.get(id)!.piece)) {
      const key = `${folder}/${word}`;
      const set = lengths.get(key) ?? new Set();
      set.add(Math.round(durationSeconds / SAME_LENGTH / 2));
      lengths.set(key, set);
    }
  return (folder: string, word: string) => (lengths.get(`${folder}/${word}`)?.size ?? 0) > 4;
}

function belongTogether(
  a: StemCandidate,
  b: StemCandidate,
  partA: NamedPart,
  partB: NamedPart,
  common: (folder: string, word: string) => boolean,
): { evidence: number; why: string[] } {
  const why: string[] = [];
  let evidence = 0;
  const apart = Math.abs(a.durationSeconds - b.durationSeconds);
  if (apart < VERY_SAME_LENGTH) {
    evidence += 1.5;
    why.push('of exactly the same length');
  } else {
    evidence += 0.5;
    why.push('of the same length');
  }
  if (a.durationSeconds > TELLING_SECONDS) evidence += 1;
  const shared = partA.piece.filter(
    (word) => partB.piece.includes(word) && !SAYS_NOTHING.has(word) && !common(a.folder, word),
  );
  if (shared.length > 0) {
    const all = new Set([...partA.piece, ...partB.piece]).size;
    evidence += 2 * (shared.length / all) + Math.min(0.5, 0.25 * (shared.length - 1));
    // “Mullion Waltz” and “Sparrow Waltz” are two waltzes.
    if (shared.length < partA.piece.length && shared.length < partB.piece.length) evidence -= 1.5;
    why.push(`both named “${shared.join(' ')}”`);
  } else if (partA.piece.length > 0 && partB.piece.length > 0) {
    // Two names that speak of different things.
    evidence -= 1.5;
  }
  if (partA.part && partB.part) {
    if (partA.part !== partB.part) {
      evidence += 1.5;
      why.push('different parts by name');
    } else evidence -= 1;
  }
  const together = correlation(a.envelope, b.envelope);
  if (together > SAME_SOUND) evidence -= 3;
  else if (together > 0.12) {
    evidence += Math.min(1.5, 4 * together);
    why.push('they play together');
  } else evidence -= together < 0.02 ? 1 : 0.5;
  if (a.tempoBpm !== null && b.tempoBpm !== null) {
    const { ratio } = tempoRelation(a.tempoBpm, b.tempoBpm);
    // Stems of one piece share its tempo, or a half or double of it; names alone do not outweigh that.
    evidence += ratio !== null ? 0.5 : -2;
  }
  return { evidence, why };
}

function nameOfPiece(members: readonly StemCandidate[], parts: ReadonlyMap<string, NamedPart>): string {
  const lists = members.map(({ id }) => parts.get(id)!.piece);
  const shared = lists[0].filter((word) => lists.filter((list) => list.includes(word)).length > 1);
  const words = shared.length
    ? shared
    : (lists.find((list, i) =>
        list.some((word) => lists.some((other, j) => j !== i && other.includes(word))),
      ) ??
      lists.find((list) => list.length > 0) ?? [members[0].folder.split('/').pop() || members[0].name]);
  return words.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join(' ');
}

/** Pearson's correlation of two series over their common length; 0 when one does not change. */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const n = Math.min(a.length, b.length);
  let [sumA, sumB, aa, bb, ab] = [0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    sumA += a[i];
    sumB += b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
    ab += a[i] * b[i];
  }
  const spread = Math.sqrt((aa - (sumA * sumA) / n) * (bb - (sumB * sumB) / n));
  return spread > 1e-9 ? (ab - (sumA * sumB) / n) / spread : 0;
}

/** Steps of an onset envelope a second. */
const ENVELOPE_RATE = 10;

/** When a recording has hits and how strong they are, in tenths of a second, a little blurred. */
export function onsetEnvelope(
  onsets: readonly { time: number; strength: number }[],
  durationSeconds: number,
): Float32Array {
  const sharp = new Float32Array(Math.ceil(durationSeconds * ENVELOPE_RATE) + 1);
  for (const { time, strength } of onsets) {
    const at = Math.floor(time * ENVELOPE_RATE);
    if (at >= 0 && at < sharp.length) sharp[at] += Math.sqrt(strength);
  }
  return sharp.map((value, i) => value + 0.5 * ((sharp[i - 1] ?? 0) + (sharp[i + 1] ?? 0)));
}
