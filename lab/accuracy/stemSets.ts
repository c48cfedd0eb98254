import { findStemSets, onsetEnvelope, type StemCandidate } from '@/core/stems/stemSets';

export interface StemTruth {
  id: string;
  namedFile: string;
  stemSet?: string | null;
}

export interface StemScore {
  sets: number;
  /** Sets that were found with exactly their members. */
  found: number;
  /** Sets that were found in part, and proposals that hold anything else. */
  partly: string[];
  invented: string[];
}

/** What the stem set search sees of a measured recording. */
export interface Listened {
  durationSeconds: number;
  tempoBpm: number | null;
  onsets: readonly { time: number; strength: number }[];
}

/** How many stem sets are found, and which are invented, when all recordings lie in one folder under their given names. */
export function scoreStemSets(
  items: readonly StemTruth[],
  listened: ReadonlyMap<string, Listened>,
): StemScore {
  const candidates = items.flatMap(({ id, namedFile }): StemCandidate[] => {
    const heard = listened.get(id);
    if (!heard) return [];
    const { durationSeconds, tempoBpm, onsets } = heard;
    const envelope = onsetEnvelope(onsets, durationSeconds);
    return [{ id, name: namedFile, folder: '', durationSeconds, tempoBpm, envelope }];
  });
  const truth = new Map<string, Set<string>>();
  for (const { id, stemSet } of items)
    if (stemSet && listened.has(id)) truth.set(stemSet, (truth.get(stemSet) ?? new Set()).add(id));
  const score: StemScore = { sets: truth.size, found: 0, partly: [], invented: [] };
  const nameOf = (id: string) => items.find((item) => item.id === id)!.namedFile;
  for (const { ids } of findStemSets(candidates)) {
    const own = items.find((item) => item.id === ids[0])!.stemSet;
    const wanted = own ? truth.get(own)! : null;
    if (wanted && ids.length === wanted.size && ids.every((id) => wanted.has(id))) score.found++;
    else if (ids.some((id) => items.find((item) => item.id === id)!.stemSet))
      score.partly.push(ids.map(nameOf).join(', '));
    else score.invented.push(ids.map(nameOf).join(', '));
  }
  return score;
}
