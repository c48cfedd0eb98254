import { mod } from '../math/mod';

type Mode = 'major' | 'minor';

/** A key; `tonic` is a pitch class, 0 = C. */
export interface Key {
  tonic: number;
  mode: Mode;
}

const MAJOR_TONICS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const MINOR_TONICS = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'G#', 'A', 'Bb', 'B'];

/** The tonic as musicians spell it in that mode, in ASCII: "Bb", "F#". */
export function tonicName(key: Key): string {
  return (key.mode === 'major' ? MAJOR_TONICS : MINOR_TONICS)[key.tonic];
}

/** "Bb major", with true accidentals: "B♭ major". */
export function keyLabel(key: Key): string {
  return `${tonicName(key).replace('b', '♭').replace('#', '♯')} ${key.mode}`;
}

/** A key as files and their tags have it: "Bbm", "F#"; `isRoot`: of a one-shot, whose root is no key, the note alone. */
export const shortKey = (key: Key, isRoot = false): string =>
  tonicName(key) + (key.mode === 'minor' && !isRoot ? 'm' : '');

/** All 24 keys, major first; a key's number is its place here. */
export const ALL_KEYS: readonly Key[] = (['major', 'minor'] as const).flatMap((mode) =>
  Array.from({ length: 12 }, (_, tonic) => ({ tonic, mode })),
);

/** Major keys are 0 to 11, C first; minor ones 12 to 23. */
export function keyNumber({ tonic, mode }: Key): number {
  return mode === 'major' ? tonic : 12 + tonic;
}

/** A key so many semitones higher; cents are rounded away. */
export const movedKey = ({ tonic, mode }: Key, semitones: number): Key => ({
  mode,
  tonic: mod(tonic + Math.round(semitones), 12),
});

/** The pitch class of a tonic written in ASCII or with true accidentals, or null. */
export function pitchClassOf(name: string): number | null {
  const match = /^([A-G])([#b♯♭]?)$/.exec(name);
  if (!match) return null;
  const natural = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 }[match[1]] as number;
  const accidental = match[2] === '' ? 0 : match[2] === '#' || match[2] === '♯' ? 1 : -1;
  return (natural + accidental + 12) % 12;
}
