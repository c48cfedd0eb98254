import { randomFrom } from '@/demo/random';
import { makeStage } from '@/demo/stage';
import { bigDrum, reeds } from '@/demo/instruments';
import { chords, drums, monoOf } from '../../../tests/support/music';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { resample } from '../signal/resample';
import { measureAudio, type MeasureOptions } from './measure';
import { measurement } from './schema';

function measure(mono: Float32Array, options?: MeasureOptions, rate = 44100) {
  const found = measureAudio(resample(mono, rate, ANALYSIS_RATE), options);
  // Whatever goes in, what is exported keeps to the schema.
  return measurement.parse(found);
}

test.each([82.37, 113.87, 128, 141.04])(
  'steady drums at %d BPM are measured to two hundredths, the one to 5 ms',
  (bpm) => {
    const found = measure(monoOf(drums({ bpm, bars: 12, one: 0.15 })));
    expect(found.tempo!.steady).toBe(true);
    expect(Math.abs(found.tempo!.bpm - bpm)).toBeLessThan(0.02);
    expect(Math.abs(found.theOne! - 0.15)).toBeLessThan(0.005);
    expect(found.meter).toMatchObject({ beatsPerBar: 4, beatUnit: 4 });
  },
);

test('a loop with 180 ms of air before the one is trimmed to within 5 ms at both ends', () => {
  const found = measure(monoOf(drums({ bpm: 100, bars: 4, one: 0.18, tail: 0.21 })));
  expect(found.kind).toBe('loop');
  expect(found.bars).toBe(4);
  expect(Math.abs(found.loop!.start - 0.18)).toBeLessThan(0.005);
  expect(Math.abs(found.loop!.end - 9.78)).toBeLessThan(0.005);
});

test('a song that begins without a beat has its one where the beat begins, and no bar before it is lost', () => {
  // Three bars of a held tone, which begins on the first of them.
  const intro = (3 * 4 * 60) / 108;
  const song = drums({ bpm: 108, bars: 22, one: 0.1 });
  const stage = makeStage(intro + song.left.length / song.sampleRate);
  reeds(stage, 0.1, 57, intro - 0.8);
  const mono = monoOf(stage);
  const played = monoOf(song);
  const from = Math.round(intro * 44100);
  for (let i = 0; i < played.length; i++) mono[from + i] += played[i];
  const found = measure(mono);
  expect(found.kind).toBe('song');
  expect(Math.abs(found.theOne! - intro - 0.1)).toBeLessThan(0.005);
  expect(found.bars).toBe(22);
  expect(found.downbeats[0]).toBeLessThan(3);
});

test('a waltz is counted in three', () => {
  const found = measure(monoOf(drums({ bpm: 132, bars: 12, beatsPerBar: 3 })));
  expect(found.meter!.beatsPerBar).toBe(3);
  expect(Math.abs(found.tempo!.bpm - 132)).toBeLessThan(0.02);
});

test('swing is measured where the off-beat stands', () => {
  expect(measure(monoOf(drums({ bpm: 110, bars: 8, swing: 0.64 }))).swing).toBeCloseTo(0.64, 1.5);
  expect(measure(monoOf(drums({ bpm: 110, bars: 8 }))).swing).toBeCloseTo(0.5, 1.5);
});

test('a range keeps the tempo where the curator wants it', () => {
  const mono = monoOf(drums({ bpm: 90, bars: 8 }));
  expect(Math.abs(measure(mono, { range: { low: 70, high: 120 } }).tempo!.bpm - 90)).toBeLessThan(0.05);
  expect(Math.abs(measure(mono, { range: { low: 150, high: 220 } }).tempo!.bpm - 180)).toBeLessThan(0.1);
});

test.each([
  [60, 'major', 'C', 440],
  [57, 'minor', 'A', 440],
  [63, 'major', 'Eb', 446],
  [54, 'minor', 'F#', 433],
] as const)('chords on %i %s are in %s at A = %i', (tonic, mode, name, tuning) => {
  const found = measure(monoOf(chords(tonic, mode, tuning)));
  expect(found.key).toMatchObject({ tonic: name, mode });
  expect(Math.abs(found.tuningCents! - 1200 * Math.log2(tuning / 440))).toBeLessThan(4);
});

test('drums have no key', () => {
  const found = measure(monoOf(drums({ bpm: 100, bars: 8 })));
  expect(found.key).toBeNull();
  expect(found.remarks).toContainEqual({ code: expect.stringMatching(/no key|only drums/) });
});

test('a single hit is a one-shot without a tempo', () => {
  const stage = makeStage(0.7);
  bigDrum(stage, 0.01);
  expect(measure(monoOf(stage))).toMatchObject({
    kind: 'oneshot',
    tempo: null,
    loop: null,
    rootNote: null,
    key: null,
  });
});

test('a single tone is a one-shot with its root note', () => {
  const stage = makeStage(1.2);
  reeds(stage, 0.02, 57, 0.9);
  const found = measure(monoOf(stage));
  expect(found.kind).toBe('oneshot');
  expect(found.rootNote).toMatchObject({ note: 'A3', chord: null });
  // It is found and moved by its root.
  expect(found.key).toMatchObject({ tonic: 'A', alternatives: [] });
  expect(found.tuningCents).toBe(found.rootNote!.cents);
});

test.each([
  { notes: [57, 60, 64], root: 'A3', chord: 'minor' },
  // The root is not the lowest: an inversion.
  { notes: [55, 60, 64], root: 'C3', chord: 'major' },
])('a chord $notes is a one-shot with its root and its mode', ({ notes, root, chord }) => {
  const stage = makeStage(1.6);
  for (const note of notes) reeds(stage, 0.02, note, 1.2);
  const found = measure(monoOf(stage));
  expect(found.kind).toBe('oneshot');
  expect(found.rootNote?.note.replace(/\d/, '')).toBe(root.replace(/\d/, ''));
  expect(found.rootNote?.chord).toBe(chord);
  expect(found.key).toMatchObject({ tonic: root.replace(/\d/, ''), mode: chord });
});

describe('what is no music gets an answer, never an exception', () => {
  const random = randomFrom(77);
  const noise = (seconds: number) =>
    Float32Array.from({ length: Math.round(seconds * 44100) }, () => random() * 2 - 1);
  test.each([
    ['nothing at all', new Float32Array(0)],
    ['one sample', Float32Array.from([1])],
    ['fifty milliseconds', noise(0.05)],
    ['silence', new Float32Array(44100 * 4)],
    ['direct current', new Float32Array(44100 * 4).fill(0.5)],
    ['white noise', noise(8)],
    ['clipped noise', noise(4).map((value) => Math.sign(value))],
    ['a sine', Float32Array.from({ length: 44100 * 6 }, (_, i) => Math.sin(i / 20))],
    ['a click every sample frame', Float32Array.from({ length: 44100 }, (_, i) => i % 2)],
  ])('%s', (_, mono) => {
    const found = measure(mono);
    expect(found.durationSeconds).toBeCloseTo(mono.length / 44100, 3);
    if (found.tempo) expect(found.tempo.sureness).toBeLessThanOrEqual(1);
    else expect(found.remarks.length).toBeGreaterThan(0);
  });

  test('noise is not given a sure key', () => {
    expect(measure(noise(8)).key).toBeNull();
  });
});

test('the same input gives the same answer', () => {
  const mono = monoOf(drums({ bpm: 97.3, bars: 6 }));
  expect(measure(mono)).toEqual(measure(mono));
});

test('where every beat sounds alike the one is uncertain; drums leave none', () => {
  const alike = makeStage(16, 44100, 3);
  for (let beat = 0; beat < 30; beat++) bigDrum(alike, 0.3 + beat * 0.5);
  const unsure = measure(monoOf(alike));
  const sure = measure(monoOf(drums({ bpm: 120, bars: 8, one: 0.3 })));
  expect(sure.theOneSureness!).toBeGreaterThan(0.9);
  expect(unsure.theOneSureness!).toBeLessThan(sure.theOneSureness! - 0.1);
  expect(sure.meter!.sureness).toBeGreaterThan(0.8);
});
