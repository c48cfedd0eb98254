import { writeMidi, type MidiEvent } from 'midi-file';
import { readMidi } from '../formats/midi';
import { recipe, type RecipeInput } from './recipe';
import type { Grid } from '../rhythm/grid';
import { midiMade } from './midiMake';

const GRID: Grid = { tempoBpm: 100, one: 0.5, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
/** How late each note is played, ms; two make a chord. */
const LATE = [0, 12, -9, 20, 4, -15, 0, 8];

/** A note on every beat, played by hand; ticks of a ms. */
function performance(): Uint8Array {
  const notes = LATE.map((late, i) => ({ at: Math.round(500 + 600 * i + late), key: 60 + i }));
  notes.push({ at: notes[2].at + 7, key: 72 });
  const events = notes
    .flatMap(({ at, key }) => [
      { at, type: 'noteOn', noteNumber: key, velocity: 80 },
      { at: at + 300, type: 'noteOff', noteNumber: key, velocity: 0 },
    ])
    .sort((a, b) => a.at - b.at);
  let before = 0;
  const track = events.map(({ at, ...event }) => {
    const deltaTime = at - before;
    before = at;
    return { ...event, channel: 0, deltaTime } as MidiEvent;
  });
  const head = { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: 1_000_000 } as MidiEvent;
  return Uint8Array.from(
    writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 1000 }, tracks: [[head, ...track]] }),
  );
}

const made = (input: Partial<RecipeInput>) =>
  midiMade(
    performance(),
    recipe.parse({
      kind: 'midi',
      name: 'made.mid',
      ...input,
      parent: {
        ...{ sampleId: '11111111-1111-4111-8111-111111111111', name: 'Played.mid', sha256: 'a'.repeat(64) },
        ...{ sequence: 1, kind: 'midi', durationSeconds: 5.2, grid: GRID, hits: [], isProved: false },
        ...{ key: { tonic: 0, mode: 'major' }, tuningCents: null },
      },
    }),
  );

const beatsOf = (input: Partial<RecipeInput>) => {
  const { bytes, plan } = made(input);
  const { notes, claims } = readMidi(bytes);
  // The file begins with the bar line at or before the first event.
  const beat = 60 / plan.grid!.tempoBpm;
  return { claims, plan, notes: notes.map(({ time, ...note }) => ({ ...note, beat: time / beat })) };
};

test('notes may meet and cross, and be stretched as far as somebody wants: limits of sound are none of theirs', () => {
  const crossing = beatsOf({
    hits: {
      moves: [
        { at: 0.5, ms: 500 },
        { at: 1.112, ms: -450 },
      ],
    },
  }).notes;
  expect(crossing).toHaveLength(LATE.length + 1);
  expect(crossing[0].key).toBe(61);
  const slow = beatsOf({ time: { tempoBpm: 15 } });
  expect(slow.notes).toHaveLength(LATE.length + 1);
  expect(slow.plan.grid!.tempoBpm).toBe(15);
});

test('quantized by half each note is half as late, held as long as it was; a chord may meet', () => {
  const half = beatsOf({ hits: { pull: 0.5, parts: 1 } }).notes;
  const whole = beatsOf({ hits: { pull: 1, parts: 1 } }).notes;
  const played = beatsOf({}).notes;
  expect(whole).toHaveLength(LATE.length + 1);
  whole.forEach(({ beat }) => expect(Math.abs(beat - Math.round(beat))).toBeLessThan(0.002));
  half.forEach(({ beat }, i) => {
    const late = played[i].beat - Math.round(played[i].beat);
    expect(beat - Math.round(beat)).toBeCloseTo(late / 2, 2);
  });
  whole.forEach(({ seconds }) => expect(seconds).toBeCloseTo(0.3, 2));
});

test('at another tempo and key: the file claims them, notes are moved, bars are cut', () => {
  const { notes, claims } = beatsOf({
    region: { from: 0, to: 4 },
    time: { tempoBpm: 120 },
    pitch: { semitones: 3 },
  });
  expect(claims).toMatchObject({ bpm: 120, key: { tonic: 3, mode: 'major' } });
  expect(notes.map(({ key }) => key)).toEqual([63, 64, 65, 75, 66]);
  expect(notes[0].seconds).toBeCloseTo(0.25, 2);
});

test('a stretch without a note is refused', () =>
  expect(() => made({ region: { from: -0.8, to: -0.2 } })).toThrow('No note begins in the stretch.'));
