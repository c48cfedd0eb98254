import { ALL_KEYS, keyLabel, type Key } from './keyNames';
import { nearKeys, type KeyNear } from './nearKeys';

const E_MINOR: Key = { tonic: 4, mode: 'minor' };
const labels = (key: Key, near: KeyNear) => nearKeys(key, near).map((number) => keyLabel(ALL_KEYS[number]));

test('a key alone', () => expect(labels(E_MINOR, 'exactly')).toEqual(['E minor']));

test('a fifth away lie the neighbours on both sides, and those that share the notes of any of them', () =>
  expect(labels(E_MINOR, '1 fifth').sort()).toEqual(
    ['E minor', 'G major', 'B minor', 'D major', 'A minor', 'C major'].sort(),
  ));

test('a semitone away lie those that are moved by one, to the key or to its relative', () =>
  expect(labels(E_MINOR, '1 semitone').sort()).toEqual(
    ['E minor', 'E♭ minor', 'F minor', 'G major', 'F♯ major', 'A♭ major'].sort(),
  ));

test.each([1, 2, 3, 4] as const)('%s semitones either way reach 2 n + 1 keys of each mode', (n) =>
  expect(nearKeys(E_MINOR, n === 1 ? '1 semitone' : `${n} semitones`)).toHaveLength(2 * (2 * n + 1)),
);
