import { FRAME_RATE, REGISTERS, type OnsetFeatures } from './onsetFeatures';
import { makeEvidence, NOVELTY_BEATS, PLACES, readPatterns, type ChromaFrames } from './patterns';

const SECONDS = 24;
const FRAMES = SECONDS * FRAME_RATE;
/** Half a second each. */
const BEATS = Float64Array.from({ length: 2 * SECONDS - 1 }, (_, k) => k / 2);

interface Scene {
  /** Hits: time in seconds, register, height. */
  hits?: [number, number, number][];
  chordAt?: (time: number) => number | null;
  levelAt?: (time: number) => number;
}

function see({ hits = [], chordAt = () => 0, levelAt = () => -20 }: Scene, beats = BEATS) {
  const registers = Array.from({ length: REGISTERS }, () => new Float32Array(FRAMES));
  for (const [time, register, height] of hits) registers[register][Math.round(time * FRAME_RATE)] = height;
  const features: OnsetFeatures = {
    frames: FRAMES,
    registers,
    strength: registers[0],
    levelDb: Float32Array.from({ length: FRAMES }, (_, f) => levelAt(f / FRAME_RATE)),
    centroidHz: 0,
    flatness: 0,
  };
  const rate = 20;
  const chords: ChromaFrames = {
    frameRate: rate,
    frames: SECONDS * rate,
    values: new Float32Array(SECONDS * rate * 12),
  };
  for (let f = 0; f < chords.frames; f++) {
    const root = chordAt(f / rate);
    if (root !== null) for (const step of [0, 4, 7]) chords.values[f * 12 + ((root + step) % 12)] = 1;
  }
  return readPatterns(makeEvidence(features, chords, chords), beats);
}

const onsetAt = ({ onsets }: ReturnType<typeof see>, beat: number, place: number, register: number) =>
  onsets[(beat * PLACES.length + PLACES.indexOf(place as (typeof PLACES)[number])) * REGISTERS + register];

describe('hits', () => {
  test('are read at their place of the beat, in their register', () => {
    const seen = see({
      hits: [
        [3, 0, 5],
        [3.25, 2, 4],
        [3 + 0.5 / 3, 1, 3],
      ],
    });
    expect(onsetAt(seen, 6, 0, 0)).toBe(5);
    expect(onsetAt(seen, 6, 1 / 2, 2)).toBe(4);
    expect(onsetAt(seen, 6, 1 / 3, 1)).toBe(3);
    expect(onsetAt(seen, 6, 0, 2)).toBe(0);
    expect(onsetAt(seen, 7, 0, 0)).toBe(0);
  });

  test('are heard two hundredths beside their place, not four', () => {
    expect(onsetAt(see({ hits: [[4.02, 0, 5]] }), 8, 0, 0)).toBe(5);
    expect(onsetAt(see({ hits: [[4.04, 0, 5]] }), 8, 0, 0)).toBe(0);
  });

  test('that are enormous count no more than very strong ones', () => {
    expect(onsetAt(see({ hits: [[4, 0, 500]] }), 8, 0, 0)).toBe(24);
  });

  test('of beats that are as long as the player makes them are read on those', () => {
    const beats = Float64Array.from([1, 1.4, 1.9, 2.5, 3.2]);
    const seen = see({ hits: [[2.2, 3, 6]] }, beats);
    expect(onsetAt(seen, 2, 1 / 2, 3)).toBe(6);
    // Half-way through the last beat, which is as long as the one before it.
    expect(onsetAt(see({ hits: [[3.55, 3, 6]] }, beats), 4, 1 / 2, 3)).toBe(6);
  });

  test('as rows have no mean and a spread of one in each column, or nothing', () => {
    const seen = see({
      hits: Array.from({ length: 12 }, (_, k) => [2 * k, 1, 4] as [number, number, number]),
    });
    const width = PLACES.length * REGISTERS;
    for (let column = 0; column < width; column++) {
      let mean = 0;
      let square = 0;
      for (let k = 0; k < seen.beats; k++) {
        mean += seen.rows[k * width + column] / seen.beats;
        square += seen.rows[k * width + column] ** 2 / seen.beats;
      }
      expect(mean).toBeCloseTo(0, 5);
      expect(square).toBeCloseTo(column === 1 ? 1 : 0, 5);
    }
  });
});

describe('harmony', () => {
  // A new chord every two seconds: at every fourth beat.
  const seen = see({ chordAt: (time) => [0, 5, 7, 2][Math.floor(time / 2) % 4] });

  test('changes where the chord does, and nowhere else', () => {
    for (let k = 1; k < seen.beats - 1; k++) {
      if (k % 4 === 0) expect(seen.chordChange[k]).toBeGreaterThan(0.3);
      else expect(seen.chordChange[k]).toBeLessThan(0.05);
    }
    // Half-way places share half of what is heard with the beats beside them.
    expect(Math.max(...seen.chordChangeHalf)).toBeLessThan(0.5 * seen.chordChange[8]);
  });

  test('half-way between beats is seen there', () => {
    const late = see({ chordAt: (time) => (time < 4.25 ? 0 : 6) });
    expect(late.chordChangeHalf[8]).toBeGreaterThan(0.5);
    expect(late.chordChange[8]).toBeLessThan(late.chordChangeHalf[8]);
  });

  test('of each beat is a unit vector of its own chord', () => {
    for (const k of [1, 6, 17]) {
      const chord = seen.chords.subarray(k * 12, k * 12 + 12);
      expect(chord.reduce((sum, value) => sum + value * value, 0)).toBeCloseTo(1, 6);
      const root = [0, 5, 7, 2][Math.floor(k / 4) % 4];
      expect(chord[root]).toBeGreaterThan(0.55);
      expect(chord[(root + 1) % 12]).toBeLessThan(0.05);
    }
  });

  test('that falls silent changes; silence that goes on does not', () => {
    const ending = see({ chordAt: (time) => (time < 10 ? 0 : null) });
    expect(ending.chordChange[20]).toBe(0.5);
    expect(ending.chordChange[30]).toBe(0);
  });
});

describe('novelty', () => {
  const at = (span: (typeof NOVELTY_BEATS)[number]) => NOVELTY_BEATS.indexOf(span);

  test('of what is played is greatest where a new pattern begins', () => {
    const hits = Array.from(BEATS, (time, k) =>
      k < 24
        ? ([time, k % 2 ? 2 : 0, 5] as [number, number, number])
        : ([time + 0.25, 3, 5] as [number, number, number]),
    );
    const { novelty } = see({ hits });
    const values = Array.from(novelty[at(8)].onsets);
    expect(values.indexOf(Math.max(...values))).toBe(24);
  });

  test('of the harmony over sixteen beats is greatest where the part changes, not where the chord does', () => {
    const { novelty } = see({
      chordAt: (time) => (time < 12 ? [0, 7] : [3, 10])[Math.floor(time) % 2],
    });
    const values = Array.from(novelty[at(16)].chords).slice(4, 44);
    expect(values.indexOf(Math.max(...values)) + 4).toBe(24);
  });

  test('of the level is one for a rise of ten decibels; a fall counts half', () => {
    const louder = see({ levelAt: (time) => (time < 12 ? -30 : -20) }).novelty[at(4)].level;
    expect(louder[24]).toBeCloseTo(1, 6);
    expect(louder[10]).toBeCloseTo(0, 6);
    const softer = see({ levelAt: (time) => (time < 12 ? -20 : -30) }).novelty[at(4)].level;
    expect(softer[24]).toBeCloseTo(0.5, 6);
  });

  test('of what is below the loudest by more than fifty decibels is none', () => {
    const faint = see({
      levelAt: (time) => (time < 1 ? -10 : time < 12 ? -90 : -70),
    }).novelty[at(4)].level;
    expect(faint[24]).toBeCloseTo(0, 6);
  });
});
