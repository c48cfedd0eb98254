import type { Measurement } from '@/core/measurement/schema';
import { differences, differencesOf, type Planned } from '@/core/recipes/differences';
import { differencesText } from './differences';

const PLANNED: Planned = {
  ...{ frames: 441_000, sampleRate: 44_100, bars: 4, quieterDb: 0, peak: 0.8 },
  grid: { tempoBpm: 96, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
  key: { tonic: 9, mode: 'minor' },
  tuningCents: 0,
  hits: [0, 0.625, 1.25, 1.875, 2.5],
};

/** What measuring says of a file that is just what was planned, but for what is said otherwise. */
const found = (otherwise: Partial<Measurement> = {}, late = 0): Measurement =>
  ({
    ...{ kind: 'loop', durationSeconds: 10, tuningCents: 0.4 },
    tempo: { bpm: 96.001, sureness: 0.98, alternatives: [], steady: true, bpmError: 0.002 },
    key: { tonic: 'A', mode: 'minor', sureness: 0.9, alternatives: [] },
    onsets: PLANNED.hits.map((time) => ({ time: time + late / 1000, strength: 9 })),
    ...otherwise,
  }) as Measurement;

test('what is as planned has no fault, and says its figures', () => {
  const said = differencesOf(PLANNED, found({}, 0.2));
  expect(said.faults).toEqual([]);
  expect(said.hits).toMatchObject({ found: 5, of: 5 });
  expect(differencesText(said)).toBe(
    'planned 96 BPM, measured 96.001; first hit +0.2 ms, last +0.2 ms, 5 of 5 found; A minor both; tuning ±0 cents; 441,000 frames, as planned',
  );
});

test.each<[string, Partial<Measurement>, number, string, string]>([
  ['its length', { durationSeconds: 10 + 1 / 44_100 }, 0, 'length', '441001 frames long instead of 441000'],
  [
    'its tempo',
    { tempo: { bpm: 96.2, sureness: 0.9, alternatives: [], steady: true, bpmError: 0.002 } },
    0,
    'tempo',
    'measures 96.2 BPM instead of 96',
  ],
  [
    'its key',
    { key: { tonic: 'B', mode: 'minor', sureness: 0.9, alternatives: [] } },
    0,
    'key',
    'measures B minor instead of A minor',
  ],
  ['its tuning', { tuningCents: 14 }, 0, 'tuning', '14 cents off the planned tuning'],
  ['its hits', {}, 3.4, 'hits', 'hits are 3.4 ms from their places'],
])('%s beyond its bound is a fault', (_, otherwise, late, fault, words) => {
  const said = differencesOf(PLANNED, found(otherwise, late));
  expect(said.faults).toEqual([fault]);
  expect(differencesText(said)).toContain(words);
});

test('faults that were kept as sentences are read as what they said', () => {
  const said = differencesOf(PLANNED, found({}));
  const kept = [
    'it is 9 frames long instead of 8',
    'it measures 96.2 BPM instead of 96',
    'it measures B minor instead of A minor',
  ];
  expect(differences.parse({ ...said, faults: kept }).faults).toEqual(['length', 'tempo', 'key']);
});

test.each<[string, Partial<Measurement>]>([
  [
    'half the tempo is the same tempo told otherwise',
    { tempo: { bpm: 48, sureness: 0.9, alternatives: [], steady: true, bpmError: 0.001 } },
  ],
  [
    'a tempo is held to as far as measuring is sure of it',
    { tempo: { bpm: 96.2, sureness: 0.9, alternatives: [], steady: true, bpmError: 0.06 } },
  ],
  [
    'the relative key has the same notes',
    { key: { tonic: 'C', mode: 'major', sureness: 0.9, alternatives: [] } },
  ],
  ['a guess at the key is no fault', { key: { tonic: 'B', mode: 'minor', sureness: 0.4, alternatives: [] } }],
  ['tuning goes round after half a semitone', { tuningCents: -99.8 }],
  [
    'what moves has no one tempo to compare',
    { tempo: { bpm: 80, sureness: 0.9, alternatives: [], steady: false, bpmError: null } },
  ],
  ['without any hit there is nothing to say of them', { onsets: [] }],
])('%s', (_, otherwise) => expect(differencesOf(PLANNED, found(otherwise)).faults).toEqual([]));

test('what was made quieter says so', () =>
  expect(differencesText(differencesOf({ ...PLANNED, quieterDb: 1.2 }, found()))).toContain(
    'made 1.20 dB lower to avoid clipping',
  ));
