import { ALL_KEYS, keyLabel, type Key } from '../harmony/keyNames';
import { keyWays, proposalFor, tempoWays, type Fittable, type Target } from './proposal';
import { strainOf, strainWord } from './strain';

const keyOf = (label: string): Key => ALL_KEYS.find((one) => keyLabel(one) === label)!;
const LOOP: Fittable = {
  ...{
    kind: 'loop',
    tempoBpm: 101.617,
    bars: 4,
    beatsPerBar: 4,
    key: keyOf('A minor'),
    tuningCents: null,
    isUnpitched: false,
  },
};
const NOTHING: Target = { tempoBpm: null, key: null, isTape: false };
const said = (sample: Partial<Fittable>, target: Partial<Target>) => {
  const proposal = proposalFor({ ...LOOP, ...sample }, { ...NOTHING, ...target });
  const { ratio, semitones } = proposal;
  const sign = semitones > 0 ? '+' : semitones < 0 ? '−' : '';
  return { ...proposal, words: `tempo × ${(1 / ratio).toFixed(3)}, ${sign}${Math.abs(semitones)}` };
};

test('C♯ minor at 148.27 to E minor at 112: tempo × 0.755, +3', () => {
  const { words, otherWay } = said(
    { tempoBpm: 148.27, key: keyOf('C♯ minor') },
    { tempoBpm: 112, key: keyOf('E minor') },
  );
  expect(words).toBe('tempo × 0.755, +3');
  expect(otherWay).toBe(-9);
});

test('without a target nothing is done', () => {
  expect(said({}, {})).toMatchObject({ ratio: 1, semitones: 0, cents: 0, strain: 0, word: 'none', bars: 4 });
});

test('A minor at 101.617 to 88.402: only the tempo moves', () => {
  expect(said({}, { tempoBpm: 88.402 })).toMatchObject({
    words: 'tempo × 0.870, 0',
    tempoBpm: 88.402,
    bars: 4,
  });
});

test.each([
  [164, 82, 1, 2],
  [82, 164, 1, 8],
  [140, 90, 0.7778, 2],
  [100, 93, 1.0753, 4],
])(
  '%d at %d: half or double where it strains less (× %d), and four bars become %d',
  (from, to, ratio, bars) => {
    const proposal = said({ tempoBpm: from }, { tempoBpm: to });
    expect(proposal.ratio).toBeCloseTo(ratio, 4);
    expect(proposal.bars).toBe(bars);
  },
);

test('three against two is never taken unasked, only offered, and only where whole beats loop', () => {
  expect(tempoWays(100, 150).map(({ level }) => level)).toEqual([1, 2, 0.5]);
  expect(said({ tempoBpm: 138, beatsPerBar: 3 }, { tempoBpm: 96 })).toMatchObject({ level: 1 });
  expect(said({ tempoBpm: 138, beatsPerBar: 3 }, { tempoBpm: 96 }).levels).toContain(2 / 3);
  expect(said({ tempoBpm: 138 }, { tempoBpm: 96 }).levels).not.toContain(2 / 3);
  expect(said({ tempoBpm: 138, beatsPerBar: 3, kind: 'song' }, { tempoBpm: 96 }).levels).not.toContain(2 / 3);
});

test('what somebody chose for a sample goes before what is proposed', () => {
  const sample = { ...LOOP, tempoBpm: 138, beatsPerBar: 3 };
  const target = { ...NOTHING, tempoBpm: 96, key: keyOf('C minor') };
  const chosen = proposalFor(sample, target, { level: 2 / 3, semitones: -9 });
  expect(chosen).toMatchObject({ level: 2 / 3, semitones: -9, otherWay: 3, becomes: 'the key' });
  expect(chosen.ratio).toBeCloseTo(((2 / 3) * 138) / 96, 9);
  // A choice that there is not is none.
  expect(proposalFor(sample, target, { level: 2, semitones: 5 })).toMatchObject({ level: 2, semitones: 3 });
});

test('what is more than four times away is left as it is, and says so', () => {
  expect(tempoWays(20, 400)).toEqual([]);
  expect(said({ tempoBpm: 20 }, { tempoBpm: 400 })).toMatchObject({
    ratio: 1,
    tempoBpm: null,
    remarks: ['its tempo is more than four times away'],
  });
});

test('the smaller move comes first, in either direction', () => {
  const moves = (from: string, to: string) =>
    keyWays(keyOf(from), keyOf(to)).map(({ semitones }) => semitones);
  expect(moves('C major', 'D major')).toEqual([2, -10]);
  expect(moves('C major', 'A major')).toEqual([-3, 9]);
  expect(moves('B minor', 'C minor')).toEqual([1, -11]);
  expect(moves('C major', 'F# major'.replace('#', '♯'))).toEqual([6, -6]);
  expect(moves('G minor', 'G minor')).toEqual([0]);
});

test('where the modes differ the same notes come before the same tonic', () => {
  // G major has the notes of E minor.
  expect(keyWays(keyOf('C♯ minor'), keyOf('G major'))).toEqual([
    { semitones: 3, becomes: 'the relative key' },
    { semitones: -9, becomes: 'the relative key' },
    { semitones: 6, becomes: 'the same tonic' },
    { semitones: -6, becomes: 'the same tonic' },
  ]);
  // A minor has those of C major.
  expect(keyWays(keyOf('C major'), keyOf('A minor'))[0]).toEqual({
    semitones: 0,
    becomes: 'the relative key',
  });
});

test('a tuning is made up for where the key is moved, and only there', () => {
  expect(said({ tuningCents: 18.3 }, { key: keyOf('A minor') })).toMatchObject({ semitones: 0, cents: -18 });
  expect(said({ tuningCents: 18.3 }, { tempoBpm: 90 }).cents).toBe(0);
});

test('the root of a one-shot becomes the tonic, whatever the modes', () => {
  const root = { kind: 'oneshot', tempoBpm: null, key: keyOf('C major') } as const;
  expect(said(root, { key: keyOf('B minor') }).semitones).toBe(-1);
  expect(said({ ...root, key: keyOf('C minor') }, { key: keyOf('B minor') }).semitones).toBe(-1);
});

test('one-shots are not stretched, but their root may be moved', () => {
  expect(said({ kind: 'oneshot', tempoBpm: null }, { tempoBpm: 90, key: keyOf('B minor') })).toMatchObject({
    ratio: 1,
    semitones: 2,
    remarks: ['a one-shot is not stretched'],
  });
});

test.each<[Partial<Fittable>, string]>([
  [{ isUnpitched: true }, 'it has no pitch that could be moved'],
  [{ key: null }, 'it has no key'],
])('%j is not shifted, and says so', (sample, remark) => {
  expect(said(sample, { key: keyOf('C minor') })).toMatchObject({ semitones: 0, remarks: [remark] });
});

test('with pitch following speed, pitch follows speed; without a tempo, speed follows pitch', () => {
  const fast = said({}, { tempoBpm: 1.2 * LOOP.tempoBpm!, isTape: true });
  expect(fast.semitones).toBeCloseTo(12 * Math.log2(1.2), 6);
  const high = said({}, { key: keyOf('C minor'), isTape: true });
  expect(high.ratio).toBeCloseTo(2 ** (-3 / 12), 9);
  expect(high.tempoBpm).toBeNull();
});

test('strain rises with either bend, longer costs more than shorter, and each word has its place', () => {
  const at = (ratio: number, semitones: number) => strainOf({ ratio, semitones });
  expect(at(1, 0)).toBe(0);
  expect(at(1.2, 0)).toBeGreaterThan(at(1 / 1.2, 0));
  expect(at(1.2, 3)).toBeGreaterThan(Math.max(at(1.2, 0), at(1, 3)));
  expect(at(1, -7)).toBeCloseTo(1);
  expect([at(1, 0), at(1.04, 1), at(1.15, 3), at(1.4, 7), at(2, 7)].map(strainWord)).toEqual([
    ...['none', 'slight', 'moderate', 'strong', 'too much'],
  ]);
});
