import type { SampleEntry } from '@/contract/entry';
import { EMPTY_STATE } from '@/contract/settled';
import { loopRegion, named, parentOf, recipeAtTarget, regionOfTimes, USUAL_NAME } from './aims';
import { recipeWords } from '@/core/recipes/recipeWords';

const GRID = { tempoBpm: 148.27, one: 0.1, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
const WRITING = { format: 'wav 24', sampleRate: null, template: USUAL_NAME } as const;

function entryOf(summary: object = {}, settled: object = {}): SampleEntry {
  return {
    summary: {
      ...{ sampleId: '11111111-1111-4111-8111-111111111111', name: 'Ladder.flac', sha256: 'a'.repeat(64) },
      ...{ folder: 'Loft', kind: 'loop', durationSeconds: 6.6, proof: 'current', bars: 4, tags: [] },
      ...{ toneless: false, choices: [], format: 'wav' },
      ...{ tempoBpm: 148.27, beatsPerBar: 4, beatUnit: 4, keyTonic: 1, keyMode: 'minor', tuningCents: 8 },
      ...summary,
    },
    settled: { ...EMPTY_STATE, grid: GRID, key: { tonic: 1, mode: 'minor' }, tuningCents: 8, ...settled },
    measurement: { onsets: [{ time: 0.1, strength: 9 }], durationSeconds: 6.6 },
    sequence: 3,
  } as unknown as SampleEntry;
}

const AT_112_E_MINOR = { tempoBpm: 112, key: { tonic: 4, mode: 'minor' as const }, isTape: false };

test('a loop at a target: its whole bars, the smaller move, its tuning, a name that says it', () => {
  const made = recipeAtTarget(entryOf(), AT_112_E_MINOR, WRITING)!;
  expect(made).toMatchObject({
    ...{ kind: 'loop', name: 'Ladder 112 bpm Em.wav' },
    region: { from: 0, to: 16, shiftSeconds: 0 },
    time: { tempoBpm: 112, level: 1, even: 'no' },
    pitch: { semitones: 3, cents: -8, tape: false },
    parent: { sequence: 3, isProved: true, hits: [0.1] },
  });
  expect(recipeWords(made)).toBe('bars 1 to 4, 148.27 → 112 BPM (−24.5 %), +3 semitones, −8 cents, WAV 24');
});

test('a grid that moves is made steady by it; a song is whole; a voice keeps its formants', () => {
  const moving = { ...GRID, movingBeats: Array.from({ length: 17 }, (_, i) => 0.1 + 0.4 * i) };
  const tags = [{ facet: 'part', value: 'voice' }];
  const made = recipeAtTarget(
    entryOf({ kind: 'song', tags }, { grid: moving, tags }),
    AT_112_E_MINOR,
    WRITING,
  )!;
  expect(made).toMatchObject({
    kind: 'song',
    region: null,
    time: { even: 'beat' },
    pitch: { holdFormants: true },
  });
});

test('what the target does nothing to is not made again; what is not measured cannot be', () => {
  const itself = { tempoBpm: null, key: null, isTape: false };
  expect(recipeAtTarget(entryOf(), itself, WRITING)).toBeNull();
  expect(parentOf({ ...entryOf(), measurement: null })).toBeNull();
});

test('the bars that loop are those that are settled, or all whole ones', () => {
  expect(loopRegion(entryOf())).toEqual({ from: 0, to: 16, shiftSeconds: 0 });
  const loop = { bar: 2, bars: 2, shiftSeconds: 0.003 };
  expect(loopRegion(entryOf({}, { loop }))).toEqual({ from: 4, to: 12, shiftSeconds: 0.003 });
  expect(loopRegion(entryOf({}, { grid: null }))).toBeNull();
});

test('a stretch of time is bars where its ends are near them, beats else', () => {
  const beat = 60 / GRID.tempoBpm;
  expect(regionOfTimes(GRID, 0.11, 0.1 + 8 * beat - 0.02)).toEqual({ from: 0, to: 8 });
  expect(regionOfTimes(GRID, 0.1 + 1.5 * beat, 0.1 + 4 * beat).from).toBeCloseTo(1.5, 6);
});

test('a template that says nothing is refused; endings are those of what is written', () => {
  const parent = parentOf(entryOf())!;
  const wanted = { parent, kind: 'loop', region: { from: 4, to: 8 } } as const;
  expect(() => named(wanted, entryOf(), '{rooster}')).toThrow('There is no field {rooster}.');
  const flac = { ...wanted, write: { format: 'flac 16' } } as const;
  expect(named(flac, entryOf(), '{name} from bar {bar}[ {number}]').name).toBe('Ladder from bar 2.flac');
  expect(named(wanted, entryOf(), '{name} {number}', 7).name).toBe('Ladder 07.wav');
});

test('a recipe says every step that it takes', () => {
  const steps = named(
    {
      ...{
        parent: parentOf(entryOf())!,
        kind: 'loop',
        times: 2,
        countInBars: 1,
        countInWith: 'its first hit',
      },
      region: { from: 2, to: 8, pickupBeats: 0.5, crossfadeMs: 12, fadeOutMs: 5 },
      hits: { pull: 0.5, swing: 0.62, moves: [{ at: 1, ms: -4 }] },
      write: { format: 'flac 24', sampleRate: 48_000, gainDb: -1.5 },
    },
    entryOf(),
    '{name}',
  );
  expect(recipeWords(steps)).toBe(
    'bar 1, beat 3 to bar 3, beat 1, 0.5 beats of pickup kept, 12 ms crossfade, equal power, faded out over 5 ms, quantized 50 %, swing 0.62, 1 hit moved by hand, 2 times, 1 bar of count-in with its first hit, −1.5 dB, FLAC 24 at 48 kHz',
  );
});
