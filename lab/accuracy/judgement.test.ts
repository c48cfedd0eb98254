import { reliability, sayWhy, type Truth } from './judgement';
import type { Prediction } from './predictions';

const beats = Array.from({ length: 32 }, (_, k) => k * 0.5);
const truth: Truth = {
  id: 'X1',
  file: 'x.wav',
  kind: 'loop',
  source: 'made',
  variant: 'exact',
  bpm: 120,
  key: { tonic: 'A', mode: 'minor' },
  beats,
  downbeats: beats.filter((_, k) => k % 4 === 0),
  bars: 8,
  loopStart: 0,
  loopEnd: 16,
};
const right: Prediction = {
  id: 'X1',
  bpm: 120,
  beats,
  downbeats: truth.downbeats!,
  beatsPerBar: 4,
  bars: 8,
  loopStart: 0,
  loopEnd: 16,
  key: { tonic: 'A', mode: 'minor' },
  kind: 'loop',
};
const said = (change: Partial<Prediction>, of: Partial<Truth> = {}) =>
  sayWhy({ ...truth, ...of }, { ...right, ...change }).map(([, , what, why]) => `${what}: ${why}`);

test('of what is right nothing is said', () => {
  expect(said({})).toEqual([]);
});

test('what was not measured is', () => {
  expect(sayWhy(truth, undefined)[0][2]).toBe('not measured');
});

test.each([
  [240, /^240.00 for 120 BPM: twice/],
  [60, /half the tempo/],
  [180, /three beats for two/],
  [80, /two beats for three/],
  [137, /no simple ratio/],
])('%i BPM for 120 has its reason', (bpm, reason) => {
  expect(said({ bpm, downbeats: [] })).toEqual([expect.stringMatching(reason)]);
});

test('another tempo that is accepted is right', () => {
  expect(said({ bpm: 180 }, { bpmAlt: [180] })).toEqual([]);
});

test.each([
  [0.5, /another beat of the bar taken for the one \(1 beats\)/],
  [0.25, /off-beats/],
  [0.11, /soft or early attacks/],
])('a one that is %f s off has its reason', (off, reason) => {
  const downbeats = right.downbeats.map((time) => time + off);
  expect(said({ downbeats })).toEqual([expect.stringMatching(reason)]);
});

test('bars and bounds of a loop', () => {
  expect(said({ bars: 4, loopEnd: 8 })).toEqual([expect.stringMatching(/^4 bars for 8/)]);
  expect(said({ loopEnd: 16.03 })).toEqual([expect.stringMatching(/not exact enough/)]);
  expect(said({ loopStart: 0.03 })).toEqual([expect.stringMatching(/attack of the first hit/)]);
  expect(said({ loopEnd: 16.015 })).toEqual([]);
});

test.each([
  ['E', 'minor', /fifth/],
  ['D', 'minor', /fifth/],
  ['A', 'major', /other mode/],
  ['C', 'major', /relative/],
  ['F#', 'major', /distant/],
])('%s %s for A minor has its reason', (tonic, mode, reason) => {
  expect(said({ key: { tonic, mode } })).toEqual([expect.stringMatching(reason)]);
});

test('a key that is missing, and one that drums cannot have', () => {
  expect(said({ key: null })).toEqual([expect.stringMatching(/^no key for A minor/)]);
  expect(said({}, { key: null })).toEqual([expect.stringMatching(/^A minor for drums/)]);
  expect(said({}, { key: null, keyUnknown: true })).toEqual([]);
});

test('a one-shot that is taken for a loop; a texture may be a song', () => {
  expect(said({}, { kind: 'oneshot' })).toEqual([expect.stringMatching(/^taken for a loop/)]);
  expect(said({ kind: 'song' }, { kind: 'oneshot', variant: 'real-texture' })).toEqual([]);
});

test('reliability: shares of right answers by how sure they were', () => {
  const sure = { ...right, tempoSureness: 0.95, keySureness: 0.4, kindSureness: 0.99 };
  const rows = reliability([
    { truth, prediction: sure },
    { truth, prediction: { ...sure, bpm: 60 } },
    { truth, prediction: { ...sure, tempoSureness: 0.2 } },
    // Two defensible tempi tell nothing of confidence, nor does what was not measured.
    { truth: { ...truth, tempoAmbiguous: true }, prediction: { ...sure, bpm: 60 } },
    { truth, prediction: undefined },
  ]);
  const row = (range: string) => rows.find(([name]) => name === range)!.slice(1);
  expect(row('0.90 – 0.97')).toEqual(['50 % of 2', '–', '–']);
  expect(row('0.00 – 0.50')).toEqual(['100 % of 1', '100 % of 4', '–']);
  expect(row('0.97 – 1.00')[2]).toBe('100 % of 3');
});
