import { DOUBT_BITS, DOUBT_SORTS, NEED_SORTS, TO_DO_BITS, TO_DO_SORTS } from '@/contract/doubt';
import { doubtsAbout, needOf } from '@/library/samples/needsALook';
import { EMPTY_STATE } from '@/contract/settled';
import type { Measurement } from '@/core/measurement/schema';
import { readName } from '@/core/readings/nameReading';
import type { Reading } from '@/core/readings/reading';
import { readTags } from '@/core/readings/tagReading';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { allDoubtWords, doubtWords } from './doubts';

test.each([
  [164, 82, 'double'],
  [60, 120, 'half'],
  [96, 96.4, 'agrees'],
  [90, 60, '×3⁄2'],
  [100, 96, '4.2 % faster'],
])('%d beside %d: %s', (bpm, settled, words) => {
  expect(tempoRelation(bpm, settled).words).toBe(words);
});

test('tempi are positive', () => {
  expect(() => tempoRelation(0, 100)).toThrow(RangeError);
});

test('tags give decimal tempi and keys as their standards spell them', () => {
  const readings = readTags([
    { field: 'TBPM', text: '173.98' },
    { field: 'TKEY', text: 'F#m' },
    { field: 'TIT2', text: '99' },
    { field: 'BPM', text: 'fast' },
  ]);
  expect(readings).toEqual([
    expect.objectContaining({ property: 'tempo', value: 173.98, source: 'embedded tag' }),
    expect.objectContaining({ property: 'key', value: { tonic: 6, mode: 'minor' } }),
  ]);
  expect(readTags([{ field: 'INITIALKEY', text: 'Eb' }])[0]).toMatchObject({
    value: { tonic: 3, mode: 'major' },
  });
  expect(readTags([{ field: 'TKEY', text: 'o' }])[0]).toMatchObject({ value: { none: true } });
});

const measured: Measurement = {
  kind: 'loop',
  kindSureness: 0.9,
  durationSeconds: 10,
  tempo: { bpm: 82, sureness: 0.9, alternatives: [], steady: true, bpmError: 0.001 },
  theOne: 0,
  theOneSureness: 0.9,
  beats: [],
  downbeats: [],
  meter: { beatsPerBar: 4, beatUnit: 4, sureness: 0.9 },
  bars: 4,
  barTempiBpm: [],
  loop: { start: 0, end: 10, bars: 4, sureness: 0.9 },
  rootNote: null,
  key: { tonic: 'D', mode: 'minor', sureness: 0.9, alternatives: [] },
  tuningCents: 0,
  swing: null,
  chroma: null,
  character: null,
  onsets: [],
  spoken: false,
  remarks: [],
};

const reasons = (...about: Parameters<typeof doubtsAbout>) => allDoubtWords(doubtsAbout(...about));

test('a name that says the double gets its likely reason', () => {
  expect(reasons(measured, readName('Trapdoor 164 bpm.wav'))).toEqual([
    'file name says 164 BPM, measured 82: double?',
  ]);
});

test('nothing is said when all witnesses agree', () => {
  expect(reasons(measured, readName('Groove 82 bpm Dm.wav'))).toEqual([]);
});

test('every doubt has its own words', () => {
  const doubtful: Measurement = {
    ...measured,
    tempo: {
      bpm: 82,
      sureness: 0.4,
      alternatives: [{ bpm: 164, sureness: 0.35 }],
      steady: false,
      bpmError: null,
    },
    key: { ...measured.key!, sureness: 0.2 },
    loop: { ...measured.loop!, start: 0.2 },
  };
  expect(reasons(doubtful, readName('Groove Em.wav'))).toEqual([
    'file name says E minor, measured D minor',
    'tempo uncertain: 82 or 164',
    'key uncertain: D minor',
    'tempo drifts',
    'not trimmed to bars',
  ]);
});

describe('what its stem set says', () => {
  const tempo = (value: number): Reading => ({
    property: 'tempo',
    value,
    source: 'stem set',
    sureness: 0.97,
    detail: 'of “1 Drums”',
  });
  const key = (tonic: number): Reading => ({
    property: 'key',
    value: { tonic, mode: 'minor' },
    source: 'stem set',
    sureness: 0.9,
    detail: 'of “2 Bass”',
  });

  test('is held against what was measured', () => {
    expect(reasons(measured, [tempo(164), key(11)])).toEqual([
      'stem set says 164 BPM, measured 82: double?',
      'stem set says B minor, measured D minor',
    ]);
    expect(reasons(measured, [tempo(82), key(2)])).toEqual([]);
  });

  test('a stem is not asked to be trimmed: its silence keeps the set together', () => {
    const late: Measurement = { ...measured, loop: { ...measured.loop!, start: 0.2 } };
    const decided = { ...EMPTY_STATE, tempoChosen: false, keyChosen: false, inStemSet: false };
    const words = (inStemSet: boolean) => doubtsAbout(late, [], { ...decided, inStemSet }).map(doubtWords);
    expect(words(false)).toEqual(['not trimmed to bars']);
    expect(words(true)).toEqual([]);
  });

  test('tells a stem whose bars stand elsewhere, also where the tempo is the same', () => {
    const one = (value: number): Reading => ({ ...tempo(0), property: 'one', value }) as Reading;
    // A bar of four at 82 BPM is 2.927 s.
    expect(reasons(measured, [tempo(82), one(0.4)])).toEqual(['stem set says the one is 400 ms later']);
    expect(reasons(measured, [tempo(82), one(2.727)])).toEqual(['stem set says the one is 200 ms earlier']);
    expect(reasons(measured, [tempo(82), one(5.86)])).toEqual([]);
    const moved = { tempoBpm: 82, one: 0.2, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
    const decided = { ...EMPTY_STATE, grid: moved, tempoChosen: false, keyChosen: false, inStemSet: true };
    expect(reasons(measured, [tempo(82), one(0.4)], decided)).toEqual([]);
    const left = { ...decided, grid: { ...moved, one: 0 } };
    expect(reasons(measured, [tempo(82), one(0.4)], left)).toHaveLength(1);
    expect(reasons(measured, [tempo(164), one(0.4)])).toEqual([
      'stem set says 164 BPM, measured 82: double?',
    ]);
  });

  test('takes away the doubt where it bears out what was measured', () => {
    const unsure: Measurement = {
      ...measured,
      tempo: { ...measured.tempo!, sureness: 0.4, alternatives: [{ bpm: 164, sureness: 0.35 }] },
      key: { ...measured.key!, sureness: 0.2 },
    };
    expect(reasons(unsure, [])).toEqual(['tempo uncertain: 82 or 164', 'key uncertain: D minor']);
    expect(reasons(unsure, [tempo(82.02)])).toEqual(['key uncertain: D minor']);
    expect(reasons(unsure, [tempo(82.02), key(2)])).toEqual([]);
  });
});

test('what a curator chose or accepted is from the list uncertain', () => {
  const readings = readName('Trapdoor 164 bpm Em.wav');
  const decided = { ...EMPTY_STATE, tempoChosen: false, keyChosen: false, inStemSet: false };
  expect(doubtsAbout(measured, readings, decided)).toHaveLength(2);
  expect(doubtsAbout(measured, readings, { ...decided, tempoChosen: true }).map(doubtWords)).toEqual([
    'file name says E minor, measured D minor',
  ]);
  expect(doubtsAbout(measured, readings, { ...decided, accepted: true })).toEqual([]);
});

test('the need grows with doubts and, a little, with unsureness', () => {
  const sure = needOf(measured, []);
  const lessSure = needOf({ ...measured, tempo: { ...measured.tempo!, sureness: 0.6 } }, []);
  const one = needOf(measured, doubtsAbout(measured, readName('Trapdoor 164 bpm.wav')));
  const two = needOf(measured, doubtsAbout(measured, readName('Trapdoor 164 bpm Em.wav')));
  expect(sure).toBeLessThan(lessSure);
  expect(lessSure).toBeLessThan(one);
  expect(one).toBeLessThan(two);
  expect(two).toBeLessThan(1);
});

describe('what is not sure enough', () => {
  const unsure = (patch: Partial<Measurement>): Measurement => ({ ...measured, ...patch });

  test('is uncertain below the levels that were found on unmet recordings, each property by itself', () => {
    const tempo = { ...measured.tempo!, alternatives: [{ bpm: 164, sureness: 0.2 }] };
    expect(reasons(unsure({ tempo: { ...tempo, sureness: 0.78 } }), [])).toEqual([
      'tempo uncertain: 82 or 164',
    ]);
    expect(reasons(unsure({ tempo: { ...tempo, sureness: 0.81 } }), [])).toEqual([]);
    expect(reasons(unsure({ theOneSureness: 0.7 }), [])).toEqual(['the one uncertain: confidence 70 %']);
    // Of a tempo uncertain the one is nothing of its own.
    expect(reasons(unsure({ theOneSureness: 0.5, tempo: { ...tempo, sureness: 0.5 } }), [])).toEqual([
      'tempo uncertain: 82 or 164',
    ]);
    expect(reasons(unsure({ kindSureness: 0.6 }), [])).toEqual(['kind uncertain: loop or one-shot']);
    expect(reasons(unsure({ kind: 'oneshot', kindSureness: 0.6, loop: null }), [])).toEqual([
      'kind uncertain: one-shot or loop',
    ]);
  });

  test('is borne out by a name or a tag that says the same', () => {
    const both = unsure({
      tempo: { ...measured.tempo!, sureness: 0.6 },
      key: { ...measured.key!, sureness: 0.6 },
    });
    expect(reasons(both, [])).toHaveLength(2);
    expect(reasons(both, readName('Groove 82 bpm Dm.wav'))).toEqual([]);
  });

  test('speech says so, and nothing else, until somebody says that it is music', () => {
    const spoken = unsure({
      ...{ spoken: true, kindSureness: 0.4 },
      tempo: { ...measured.tempo!, sureness: 0.3, steady: false },
      key: { ...measured.key!, sureness: 0.3 },
    });
    expect(reasons(spoken, [])).toEqual(['speech: tempo and key may be meaningless']);
    expect(reasons({ ...spoken, spoken: false }, []).length).toBeGreaterThan(2);
  });

  test('silence and noise say so', () => {
    const none = {
      tempo: null,
      key: null,
      loop: null,
      meter: null,
      kind: 'oneshot',
      kindSureness: 0.5,
    } as const;
    expect(reasons(unsure(none), [])).toEqual(['only silence']);
    const character = {
      onsetsPerSecond: 0,
      centroidHz: 4000,
      flatness: 0.5,
      decaySeconds: null,
      attackMs: null,
    };
    const chroma = Array.from({ length: 12 }, () => 1 / 12);
    expect(reasons(unsure({ ...none, character, chroma }), [])).toEqual([
      'continuous noise without hits or pitch',
    ]);
  });
});

describe('a grid that is held against its hits', () => {
  const hits = (at: (beat: number) => number) =>
    Array.from({ length: 32 }, (_, beat) => ({ time: at(beat), strength: 5 }));
  const song: Measurement = { ...measured, kind: 'song', durationSeconds: 24, loop: null };
  const period = 60 / 82;

  test('is no doubt when it fits', () => {
    expect(reasons({ ...song, onsets: hits((beat) => beat * period) }, [])).toEqual([]);
  });

  test('is one when its tempo is off, its one stands beside, or the player moves', () => {
    expect(reasons({ ...song, onsets: hits((beat) => beat * period * 1.002) }, [])).toEqual([
      expect.stringMatching(/^grid does not match the audio: hits fall behind the click/),
    ]);
    expect(reasons({ ...song, onsets: hits((beat) => beat * period + 0.02) }, [])).toEqual([
      'grid does not match the audio: hits are 20 ms late everywhere',
    ]);
    const wander = (beat: number) => beat * period + 0.025 * Math.cos((beat / 31) * 4 * Math.PI);
    expect(reasons({ ...song, onsets: hits(wander) }, [])).toEqual([
      expect.stringMatching(/^the tempo changes: hits vary by \d+ ms/),
    ]);
  });
});

describe('the time signature and the bars', () => {
  const unsure = (meter: number, bars: number): Measurement => ({
    ...measured,
    meter: { ...measured.meter!, sureness: meter },
    loop: { ...measured.loop!, sureness: bars },
  });
  const decided = {
    ...{ ...EMPTY_STATE, tempoChosen: false, keyChosen: false, inStemSet: false },
    grid: { tempoBpm: 82, one: 0, movingBeats: null, meter: { beatsPerBar: 4, beatUnit: 4 } },
  };

  test('are uncertain where they are not sure, each in its words; where the time signature is, so are the bars', () => {
    expect(reasons(unsure(0.64, 0.95), [])).toEqual(['time signature uncertain: 4/4, confidence 64 %']);
    expect(reasons(unsure(0.95, 0.7), [])).toEqual(['bars uncertain: 4, confidence 70 %']);
    expect(reasons(unsure(0.64, 0.7), [])).toEqual(['time signature uncertain: 4/4, confidence 64 %']);
    expect(reasons(unsure(0.95, 0.85), [])).toEqual([]);
  });

  test('are no guess once a curator says another time signature, or that all is right', () => {
    const grid = { ...decided.grid, meter: { beatsPerBar: 6, beatUnit: 8 } };
    expect(reasons(unsure(0.64, 0.7), [], decided)).toHaveLength(1);
    expect(reasons(unsure(0.64, 0.7), [], { ...decided, grid })).toEqual([]);
    expect(reasons(unsure(0.64, 0.7), [], { ...decided, accepted: true })).toEqual([]);
  });

  test('are nothing of a one-shot, nor worth a word of their own where the tempo is uncertain', () => {
    expect(reasons({ ...unsure(0.5, 0.5), kind: 'oneshot' }, [])).toEqual([]);
    const tempo = { ...measured.tempo!, sureness: 0.4 };
    expect(reasons({ ...unsure(0.5, 0.5), tempo }, [])).toEqual(['tempo uncertain: 82']);
  });
});

test('every sort says either that a value may be wrong, or that something waits', () => {
  expect([...DOUBT_SORTS, ...TO_DO_SORTS].sort()).toEqual([...NEED_SORTS].sort());
  expect(DOUBT_BITS & TO_DO_BITS).toBe(0);
  expect(TO_DO_SORTS).toEqual(['not trimmed', 'alike', 'to join', 'measured anew']);
});
