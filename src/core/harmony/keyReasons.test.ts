import { chromaTotal, keyReasons, reasonWords } from './keyReasons';

/** Shares by pitch class, C first. */
const sound = (shares: Record<number, number>) => Array.from({ length: 12 }, (_, p) => shares[p] ?? 0);
const C_MAJOR = { tonic: 0, mode: 'major' } as const;
const A_MINOR = { tonic: 9, mode: 'minor' } as const;

test('what lies in the scale and what is foreign', () => {
  const reasons = keyReasons(sound({ 0: 4, 4: 2, 7: 2, 6: 1, 10: 0.5 }), sound({ 0: 3, 7: 1 }), C_MAJOR);
  expect(reasons.inScale).toBeCloseTo(8 / 9.5, 9);
  expect(reasons.loudestOutside).toEqual({ pitchClass: 6, share: 1 / 9.5 });
  expect(reasons.bassOnTonic).toBeCloseTo(0.75, 9);
});

test('the third is told from the other one, for each mode its own', () => {
  const all = sound({ 9: 3, 0: 2, 4: 2, 1: 0.5 });
  expect(keyReasons(all, all, A_MINOR).thirdRatio).toBeGreaterThan(3.5);
  expect(keyReasons(all, all, { tonic: 9, mode: 'major' }).thirdRatio).toBeLessThan(0.3);
});

test('the leading note stands a half step under the tonic', () => {
  const all = sound({ 9: 3, 8: 1 });
  expect(keyReasons(all, all, A_MINOR).leadingNote).toBeCloseTo(0.25, 9);
});

test('loudness does not matter, and silence is no reason', () => {
  const all = sound({ 0: 4, 4: 2, 7: 2, 6: 1 });
  const louder = all.map((value) => 1000 * value);
  expect(keyReasons(louder, louder, C_MAJOR)).toEqual(keyReasons(all, all, C_MAJOR));
  const none = keyReasons(sound({}), sound({}), C_MAJOR);
  expect([none.inScale, none.bassOnTonic, none.leadingNote]).toEqual([0, 0, 0]);
  expect(none.thirdRatio).toBe(1);
});

test('the reasons in words', () => {
  const words = reasonWords(
    keyReasons(sound({ 0: 4, 4: 2, 7: 2, 3: 0.4, 6: 1 }), sound({ 0: 1 }), C_MAJOR),
    C_MAJOR,
  );
  expect(words).toContain('85 % in the scale');
  expect(words).toContain('bass on C 100 %');
  expect(words).toContain('major third 4.9 × the other');
  expect(words).toMatch(/[FG][♯♭#b] is foreign/);
  const undecided = keyReasons(sound({ 9: 3, 0: 1, 1: 1 }), sound({ 9: 1 }), A_MINOR);
  expect(reasonWords(undecided, A_MINOR)).toContain('thirds undecided');
  const against = keyReasons(sound({ 9: 3, 0: 1, 1: 2 }), sound({ 9: 1 }), A_MINOR);
  expect(reasonWords(against, A_MINOR)).toContain('the minor third is the weaker one');
});

test('rows of chroma are added up by pitch class', () => {
  const rows = Float32Array.from({ length: 36 }, (_, i) => (i % 12 === 3 ? 2 : i < 12 ? 1 : 0));
  const total = chromaTotal(rows);
  expect(total[3]).toBe(6);
  expect(total[4]).toBe(1);
});
