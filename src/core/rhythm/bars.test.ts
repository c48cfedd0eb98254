import { BARS, barHypotheses, thirdsAgainstHalves } from './bars';
import { REGISTERS } from './onsetFeatures';
import { PLACES, type BeatPatterns } from './patterns';

/** Patterns of `beats` beats; `level` tells the evidence of a beat at a place in a register. */
function patternsOf(
  beats: number,
  level: (beat: number, place: number, register: number) => number,
): BeatPatterns {
  const onsets = new Float32Array(beats * PLACES.length * REGISTERS);
  let at = 0;
  for (let k = 0; k < beats; k++)
    for (let p = 0; p < PLACES.length; p++) for (let r = 0; r < REGISTERS; r++) onsets[at++] = level(k, p, r);
  const none = () => new Float64Array(beats);
  return {
    beats,
    onsets,
    chordChange: none(),
    chordChangeHalf: none(),
    bassChange: none(),
    bassChangeHalf: none(),
    chords: new Float64Array(beats * 12),
  };
}

const around = { short: true, flatness: 0.2 };

test('every size has as many phases as beats', () => {
  const found = barHypotheses(
    patternsOf(32, () => 1),
    120,
    [2, 3, 4, 5, 7],
    0,
    around,
  );
  for (const size of [2, 3, 4, 5, 7])
    expect(found.filter(({ beatsPerBar }) => beatsPerBar === size).map(({ phase }) => phase)).toEqual(
      Array.from({ length: size }, (_, i) => i),
    );
});

test('a low hit on every fourth beat is observed at its phase only', () => {
  const patterns = patternsOf(32, (beat, place, register) =>
    beat % 4 === 1 && place === 0 && register === 0 ? 8 : 0.2,
  );
  const lows = barHypotheses(patterns, 120, [4], 0, around).map(
    ({ observed }) => observed[BARS.indexOf('low')],
  );
  expect(lows.indexOf(Math.max(...lows))).toBe(1);
  expect(lows[1]).toBeGreaterThan(2);
  expect(Math.max(lows[0], lows[2], lows[3])).toBeLessThan(0);
});

test('beats that repeat after three are observed to', () => {
  const patterns = patternsOf(36, (beat, place) => (beat % 3 === 0 ? 6 : place === 0 ? 2 : 0.1));
  const found = barHypotheses(patterns, 120, [3, 4], 0, around);
  const repetition = (size: number) =>
    found.find(({ beatsPerBar }) => beatsPerBar === size)!.observed[BARS.indexOf('repetition')];
  expect(repetition(3)).toBeGreaterThan(repetition(4) + 0.3);
});

test('thirds against halves tells compound beats from simple ones', () => {
  const third = PLACES.indexOf(1 / 3);
  const half = PLACES.indexOf(1 / 2);
  expect(thirdsAgainstHalves(patternsOf(8, (_, place) => (place === third ? 5 : 0.1)))).toBeGreaterThan(1);
  expect(thirdsAgainstHalves(patternsOf(8, (_, place) => (place === half ? 5 : 0.1)))).toBeLessThan(-1);
});
