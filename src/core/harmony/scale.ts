import { mod } from '../math/mod';
import { tonicName, type Key } from './keyNames';

const STEPS = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] } as const;
/** Letters along the line of fifths, from F: each has its sharp seven places further up, its flat seven further down. */
const LETTERS = ['F', 'C', 'G', 'D', 'A', 'E', 'B'];
/** Place of F on that line, C being 0. */
const PLACE_OF_F = -1;
/** Twelve places around a tonic spell all notes: from the lowered sixth to the raised fourth and its like, in minor from the lowered second to the raised seventh. */
const LOWEST = { major: -4, minor: -6 } as const;
const PLAIN = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];
const NUMERALS = ['I', 'II', 'III', 'IV', 'V', 'VI', 'VII'];

/** Semitones above the tonic of the seven notes (natural minor). */
export function scaleSteps({ mode }: Key): readonly number[] {
  return STEPS[mode];
}

/** Pitch classes of the scale, tonic first. */
export function scaleNotes(key: Key): number[] {
  return scaleSteps(key).map((step) => (key.tonic + step) % 12);
}

/** A note as it is spelled in a key, by its place on the line of fifths; what would take a double accidental is spelled plainly. */
export function noteName(pitchClass: number, key: Key): string {
  const [letter, accidental = ''] = tonicName(key);
  const tonic = LETTERS.indexOf(letter) + PLACE_OF_F + (accidental === '#' ? 7 : accidental === 'b' ? -7 : 0);
  const lowest = tonic + LOWEST[key.mode];
  const wanted = mod(pitchClass, 12);
  // A fifth is seven semitones, and seven times seven is one: the place of a note is seven times its pitch class.
  const place = lowest + mod(7 * wanted - lowest, 12);
  const accidentals = Math.floor((place - PLACE_OF_F) / LETTERS.length);
  if (Math.abs(accidentals) > 1) return PLAIN[wanted];
  return LETTERS[mod(place - PLACE_OF_F, LETTERS.length)] + ['♭', '', '♯'][accidentals + 1];
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
