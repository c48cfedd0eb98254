import { ALL_KEYS, keyNumber, type Key } from './keyNames';

/** How far keys may be from another: along the circle of fifths, or in semitones that a pitch has to be moved by. */
export const KEY_NEAR = [
  'exactly',
  '1 fifth',
  '2 fifths',
  '3 fifths',
  '1 semitone',
  '2 semitones',
  '3 semitones',
  '4 semitones',
] as const;
export type KeyNear = (typeof KEY_NEAR)[number];

/** Place on the circle of fifths, 0 … 11; a key and its relative share theirs, as they share their notes. */
function fifthOf({ tonic, mode }: Key): number {
  return (7 * (mode === 'major' ? tonic : tonic + 3)) % 12;
}

/** The shorter way round a circle of twelve. */
const apart = (a: number, b: number) => Math.min((a - b + 24) % 12, (b - a + 24) % 12);

/**
 * Numbers of the keys that are no farther from a key than that. By fifths keys that share its notes count as the same; by
 * semitones a key counts that can be moved there or to its relative, whichever is nearer.
 */
export function nearKeys(key: Key, near: KeyNear): number[] {
  const [count, what] = near.split(' ');
  return ALL_KEYS.filter((other) => {
    if (near === 'exactly') return other.tonic === key.tonic && other.mode === key.mode;
    if (what.startsWith('fifth')) return apart(fifthOf(other), fifthOf(key)) <= Number(count);
    const goal = other.mode === key.mode ? key.tonic : key.mode === 'major' ? key.tonic + 9 : key.tonic + 3;
    return apart(other.tonic, goal % 12) <= Number(count);
  }).map(keyNumber);
}
