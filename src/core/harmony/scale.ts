import type { Key } from './keyNames';

const STEPS = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] } as const;
const SHARPS = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
const FLATS = ['C', 'D♭', 'D', 'E♭', 'E', 'F', 'G♭', 'G', 'A♭', 'A', 'B♭', 'B'];
/** Without signature, or with a single sharp, foreign notes are spelled as they mostly come. */
const PLAIN = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];
/** Major keys by tonic whose signature has flats. */
const FLAT_MAJORS = new Set([1, 3, 5, 8, 10]);
const NUMERALS = ['I', 'II', 'III', 'IV', 'V', 'VI', 'VII'];

/** Semitones above the tonic of the seven notes (natural minor). */
export function scaleSteps({ mode }: Key): readonly number[] {
  return STEPS[mode];
}

/** Pitch classes of the scale, tonic first. */
export function scaleNotes(key: Key): number[] {
  return scaleSteps(key).map((step) => (key.tonic + step) % 12);
}

/** A note as it is spelled in a key. */
export function noteName(pitchClass: number, key: Key): string {
  const relativeMajor = key.mode === 'major' ? key.tonic : (key.tonic + 3) % 12;
  const names = FLAT_MAJORS.has(relativeMajor)
    ? FLATS
    : relativeMajor === 0 || relativeMajor === 7
      ? PLAIN
      : SHARPS;
  return names[((pitchClass % 12) + 12) % 12];
}

export interface Triad {
  /** "I", "iv", "vii°". */
  numeral: string;
  /** Semitones above the tonic, root first. */
  notes: [number, number, number];
}

/** The seven triads of a key; in minor the fifth degree has the leading note, as it is played. */
export function scaleTriads(key: Key): Triad[] {
  const steps = scaleSteps(key);
  const at = (i: number) => steps[i % 7] + 12 * Math.floor(i / 7);
  return steps.map((root, degree) => {
    let third = at(degree + 2);
    const fifth = at(degree + 4);
    if (key.mode === 'minor' && degree === 4) third += 1;
    const minor = third - root === 3;
    const diminished = minor && fifth - root === 6;
    const numeral = minor ? NUMERALS[degree].toLowerCase() : NUMERALS[degree];
    return { numeral: diminished ? `${numeral}°` : numeral, notes: [root, third, fifth] };
  });
}

export interface KeyNeighbour extends Key {
  relation: 'relative' | 'parallel' | 'fifth above' | 'fifth below';
}

/** The keys that are most often taken for each other. */
export function keyNeighbours({ tonic, mode }: Key): KeyNeighbour[] {
  const other = mode === 'major' ? 'minor' : 'major';
  return [
    { relation: 'relative', tonic: (tonic + (mode === 'major' ? 9 : 3)) % 12, mode: other },
    { relation: 'parallel', tonic, mode: other },
    { relation: 'fifth above', tonic: (tonic + 7) % 12, mode },
    { relation: 'fifth below', tonic: (tonic + 5) % 12, mode },
  ];
}

/** Frequency of a MIDI note at a tuning, Hz. */
export function noteHz(midi: number, tuningCents: number): number {
  return 440 * 2 ** ((midi - 69 + tuningCents / 100) / 12);
}
