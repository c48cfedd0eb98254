import { pitchClassOf } from '@/core/harmony/keyNames';
import { readName } from '@/core/readings/nameReading';

/** What a name says, as somebody who knows the file reads it. */
export interface NamedItem {
  namedFile: string;
  nameTruth: { bpmToken: number | null; keyToken: string | null; misleadingKind: string | null };
}

export interface NameScore {
  items: number;
  tempoRight: number;
  keyRight: number;
  /** Misleading numbers (years, takes, counts) that were read as a tempo with confidence of a half or more. */
  misleadingTaken: string[];
  wrong: { name: string; what: string }[];
}

/** A number that is no tempo may be offered, but only as a guess. */
const GUESS = 0.5;
const NO_TEMPO = new Set(['year', 'take', 'index']);

/** How many tempo and key tokens of names are read right; what a name does not say must not be read. */
export function scoreNames(items: readonly NamedItem[]): NameScore {
  const score: NameScore = {
    items: items.length,
    tempoRight: 0,
    keyRight: 0,
    misleadingTaken: [],
    wrong: [],
  };
  for (const { namedFile, nameTruth } of items) {
    const readings = readName(namedFile);
    const tempo = readings.find(({ property }) => property === 'tempo');
    const key = readings.find(({ property }) => property === 'key');
    const bpm = tempo?.property === 'tempo' ? tempo.value : null;
    const { bpmToken, keyToken, misleadingKind } = nameTruth;
    if (bpmToken === null ? bpm === null : bpm !== null && Math.abs(bpm - bpmToken) < 0.01)
      score.tempoRight++;
    else score.wrong.push({ name: namedFile, what: `tempo ${bpm ?? 'none'} for ${bpmToken ?? 'none'}` });
    if (tempo && tempo.sureness >= GUESS && NO_TEMPO.has(misleadingKind ?? ''))
      score.misleadingTaken.push(namedFile);
    const found = key?.property === 'key' && !('none' in key.value) ? key.value : null;
    const wanted = keyToken === null ? null : tokenKey(keyToken);
    const right =
      wanted === null
        ? found === null
        : found !== null &&
          found.tonic === wanted.tonic &&
          (wanted.mode === null || found.mode === wanted.mode);
    if (right) score.keyRight++;
    else
      score.wrong.push({
        name: namedFile,
        what: `key ${found ? `${found.tonic} ${found.mode}` : 'none'} for ${keyToken ?? 'none'}`,
      });
  }
  return score;
}

/** The corpus writes tokens as they stand in the name: "A#_min", "Cmaj", "Eb". */
function tokenKey(token: string): { tonic: number; mode: 'major' | 'minor' | null } {
  const match = /^([A-G][#b]?)[_ ]?(.*)$/.exec(token)!;
  const tonic = pitchClassOf(match[1])!;
  const word = match[2];
  const mode = word === '' ? null : word === 'M' || /^maj/i.test(word) ? 'major' : 'minor';
  return { tonic, mode };
}
