import { BARS, barHypotheses, thirdsAgainstHalves } from './bars';
import { FRAME_RATE, REGISTERS } from './onsetFeatures';
import { makeEvidence, PLACES, readPatterns, type BeatPatterns } from './patterns';

/** A beat takes this many frames: all places of a beat fall on one. */
const BEAT_FRAMES = 60;

/** Patterns of `beats` beats; `level` tells the evidence of a beat at a place in a register, `chord` its pitch class. */
function patternsOf(
  beats: number,
  level: (beat: number, place: number, register: number) => number,
  chord: (beat: number) => number = () => 0,
  loudness: (beat: number) => number = () => 0,
): BeatPatterns {
  const frames = beats * BEAT_FRAMES;
  const registers = Array.from({ length: REGISTERS }, (_, r) => {
    const evidence = new Float32Array(frames);
    for (let k = 0; k < beats; k++)
      PLACES.forEach((place, p) => (evidence[Math.round((k + place) * BEAT_FRAMES)] = level(k, p, r)));
    return evidence;
  });
  const chroma = { frameRate: FRAME_RATE, frames, values: new Float32Array(frames * 12) };
  for (let f = 0; f < frames; f++) chroma.values[f * 12 + chord(Math.floor(f / BEAT_FRAMES))] = 1;
  const features = {
    frames,
    registers,
    strength: registers[0],
    levelDb: Float32Array.from({ length: frames }, (_, f) => loudness(Math.floor(f / BEAT_FRAMES))),
    centroidHz: 0,
    flatness: 0.2,
  };
  const times = Float64Array.from({ length: beats }, (_, k) => (k * BEAT_FRAMES) / FRAME_RATE);
  return readPatterns(makeEvidence(features, chroma, chroma), times);
}

const around = { short: true, flatness: 0.2, tonal: 0.5, repeats: () => 0 };

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

test('a harmony that lasts a bar is newest on the downbeat, also where it changes once within the bar', () => {
  // Two chords a bar, the second of which is a neighbour of the first; the bar begins on the second beat.
  const chords = [0, 0, 1, 1, 5, 5, 1, 1, 7, 7, 9, 9, 4, 4, 9, 9];
  const patterns = patternsOf(
    64,
    () => 1,
    (beat) => chords[(beat + 15) % 16],
  );
  const found = barHypotheses(patterns, 100, [4], 0, around);
  const seen = (name: (typeof BARS.names)[number]) =>
    found.map(({ observed }) => observed[BARS.indexOf(name)]);
  const newest = seen('novelty.chords.4.mean');
  expect(newest.indexOf(Math.max(...newest))).toBe(1);
  expect(newest[1]).toBeGreaterThan(0.1);
  const beside = seen('novelty.chords.4.most');
  expect(beside.filter((value) => value > 0)).toHaveLength(1);
});

test('a phrase of eight beats begins where the patterns change', () => {
  const patterns = patternsOf(64, (beat, place) =>
    Math.floor((beat + 5) / 8) % 2 ? (place === 0 ? 5 : 0.1) : 1,
  );
  const found = barHypotheses(patterns, 100, [4], 0, around).map(
    ({ observed }) => observed[BARS.indexOf('novelty.onsets.8.most')],
  );
  expect(found.indexOf(Math.max(...found))).toBe(3);
});

test('parts that begin seldom tell the bar by their few great changes, where beats say nothing', () => {
  // Something small changes at every second beat, everything at the 19th and the 51st.
  const part = (beat: number) => (beat < 19 ? 0 : beat < 51 ? 1 : 2);
  const patterns = patternsOf(80, (beat, place, register) =>
    register === part(beat) ? 6 : place === 0 && beat % 2 === 0 ? 1.2 : 1,
  );
  const found = barHypotheses(patterns, 100, [4], 0, around).map(
    ({ observed }) => observed[BARS.indexOf('novelty.onsets.16.parts')],
  );
  expect(found.indexOf(Math.max(...found))).toBe(3);
  expect(found[3]).toBeGreaterThan(0.4);
});

test('where it gets louder a part begins', () => {
  const patterns = patternsOf(
    64,
    () => 1,
    () => 0,
    (beat) => (beat < 22 ? -20 : -6),
  );
  const found = barHypotheses(patterns, 100, [4], 0, around);
  const seen = (name: (typeof BARS.names)[number]) =>
    found.map(({ observed }) => observed[BARS.indexOf(name)]);
  const parts = seen('novelty.level.8.parts');
  expect(parts.indexOf(Math.max(...parts))).toBe(22 % 4);
});

test('how much repeats after a bar and after two is observed of each size', () => {
  const patterns = patternsOf(32, () => 1);
  const repeats = (beats: number) => beats / 100;
  for (const { beatsPerBar, observed } of barHypotheses(patterns, 120, [3, 4], 0, { ...around, repeats })) {
    expect(observed[BARS.indexOf('repeatBar')]).toBe(beatsPerBar / 100);
    expect(observed[BARS.indexOf('repeatBar2')]).toBe((2 * beatsPerBar) / 100);
  }
});

test('that nothing is played between the beats is one observation, not one of every beat', () => {
  const half = PLACES.indexOf(1 / 2);
  const bare = patternsOf(32, (_, place) => (place === 0 ? 8 : 0));
  const lifted = patternsOf(32, (beat, place) =>
    place === 0 ? 8 : place === half && beat % 4 === 2 ? 8 : 0,
  );
  const seen = (patterns: typeof bare, name: (typeof BARS.names)[number]) =>
    barHypotheses(patterns, 120, [4], 0, around)[0].observed[BARS.indexOf(name)];
  expect(seen(bare, 'bar4.all.1.0')).toBeLessThan(-1.5);
  for (const beat of [0, 1, 2, 3]) expect(seen(bare, `bar4.${beat}.1.0`)).toBeCloseTo(0, 9);
  expect(seen(lifted, 'bar4.2.1.0')).toBeGreaterThan(1);
  expect(seen(lifted, 'bar4.1.1.0')).toBeLessThan(-0.3);
  expect(seen(lifted, 'bar4.all.1.0')).toBeGreaterThan(seen(bare, 'bar4.all.1.0'));
});
