import { encodeWave } from '@/core/formats/encodeWave';
import { ALL_KEYS, keyLabel } from '@/core/harmony/keyNames';
import type { SettledState } from '@/contract/settled';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { bass, bell, bigDrum, cymbal, pluck, reeds, sideDrum, voice, woodBlock } from './instruments';
import { steadyScore, type Score } from './score';
import { addRoom, makeStage, normalise, type Stage } from './stage';

/** A small sample that the theatre has measured, settled, tagged and saved. */
interface Property {
  name: string;
  /** Null for a one-shot. */
  bpm: number | null;
  meter: [beatsPerBar: number, beatUnit: number];
  bars: number;
  /** Of each beat, the place of its middle. */
  swing: number;
  /** "D minor"; null where it has none. */
  key: string | null;
  tags: string;
  rating: number | null;
  play: (stage: Stage, score: Score, beats: number) => void;
}

const FOLDER = 'Pellworth/Property room';
const MINOR = [0, 2, 3, 5, 7, 8, 10];
const MAJOR = [0, 2, 4, 5, 7, 9, 11];

/** A note of a key by its step, in MIDI; `octave` 0 begins at C2. */
function noteOf(key: string, step: number, octave: number): number {
  const { tonic, mode } = ALL_KEYS.find((one) => keyLabel(one) === key)!;
  const scale = mode === 'minor' ? MINOR : MAJOR;
  const round = Math.floor(step / 7);
  return 36 + 12 * (octave + round) + tonic + scale[step - 7 * round];
}

/** Drums: where the big one falls in each bar, the side drum, and how many cymbals a beat. */
const drumming =
  (perBar: number, big: readonly number[], side: readonly number[], perBeat: number) =>
  (stage: Stage, score: Score, beats: number) => {
    for (let bar = 0; bar < beats / perBar; bar++) {
      const beat = bar * perBar;
      for (const at of big) bigDrum(stage, score.at(beat + at), at === 0 ? 1 : 0.8);
      for (const at of side) sideDrum(stage, score.at(beat + at), 0.9);
      for (let e = 0; e < perBar * perBeat; e++)
        cymbal(stage, score.at(beat + e / perBeat), e % perBeat ? 0.45 : 0.85);
    }
  };

/** Steps of a key, one after the other, each `every` beats apart; null rests. */
const line =
  (
    sound: (stage: Stage, at: number, midi: number, seconds: number) => void,
    key: string,
    octave: number,
    every: number,
    steps: readonly (number | null)[],
  ) =>
  (stage: Stage, score: Score, beats: number) => {
    for (let n = 0; n * every < beats; n++) {
      const step = steps[n % steps.length];
      const beat = n * every;
      if (step !== null)
        sound(stage, score.at(beat), noteOf(key, step, octave), score.span(beat, 0.92 * every));
    }
  };

/** Chords on steps of a key, one every `every` beats, each struck at these places of it. */
const chords =
  (
    sound: (stage: Stage, at: number, midi: number, seconds: number) => void,
    key: string,
    octave: number,
    every: number,
    steps: readonly number[],
    struck: readonly number[],
  ) =>
  (stage: Stage, score: Score, beats: number) => {
    for (let n = 0; n * every < beats; n++)
      for (const at of struck)
        for (const third of [0, 2, 4]) {
          const beat = n * every + at;
          const next = struck[struck.indexOf(at) + 1] ?? every;
          sound(
            stage,
            score.at(beat) + third * 0.002,
            noteOf(key, steps[n % steps.length] + third, octave),
            score.span(beat, 0.9 * (next - at)),
          );
        }
  };

const bassNote = (stage: Stage, at: number, midi: number, seconds: number) =>
  bass(stage, at, midi, seconds, 0.95);
const plucked = (stage: Stage, at: number, midi: number, seconds: number) =>
  pluck(stage, at, midi, seconds, 0.7, midi % 2 ? 0.25 : -0.25);
const blown = (stage: Stage, at: number, midi: number, seconds: number) =>
  reeds(stage, at, midi, seconds, 0.8);
const sung = (stage: Stage, at: number, midi: number, seconds: number) =>
  voice(stage, at, midi, seconds, 0.9);
const rung = (stage: Stage, at: number, midi: number) => bell(stage, at, midi, 0.9);

const loop = (
  name: string,
  bpm: number,
  bars: number,
  key: string | null,
  tags: string,
  play: Property['play'],
  rest: Partial<Property> = {},
): Property => ({
  ...{ name, bpm, bars, key, tags, play, meter: [4, 4], swing: 0.5, rating: null, ...rest },
});
const hit = (name: string, key: string | null, tags: string, play: Property['play']): Property =>
  loop(name, 120, 1, key, tags, play, { bpm: null });

const PROPERTIES: readonly Property[] = [
  loop('Cellar Steps', 88.402, 4, null, 'drums struck', drumming(4, [0, 2.5], [1, 3], 2), { rating: 4 }),
  loop('Rattling Cart', 113.87, 4, null, 'drums struck', drumming(4, [0, 1.5, 2], [1, 3], 4)),
  loop('Three-legged Stool', 101.617, 4, null, 'drums struck', drumming(3, [0], [1, 2], 2), {
    meter: [3, 4],
  }),
  loop('Lame Horse', 94, 4, null, 'drums struck', drumming(4, [0, 2], [1, 3], 2), { swing: 0.64, rating: 5 }),
  loop('Galley Slaves', 164, 4, null, 'drums struck', drumming(4, [0, 1, 2, 3], [2], 1)),
  loop('Wooden Shoes', 124, 4, null, 'percussion struck', (stage, score, beats) => {
    for (let e = 0; e < beats * 2; e++)
      if (e % 8 !== 3) woodBlock(stage, score.at(e / 2), e % 4 ? 780 : 1040, e % 2 ? 0.5 : 0.9);
  }),
  loop(
    'Giant’s Walk',
    82,
    4,
    'E minor',
    'bass plucked',
    line(bassNote, 'E minor', 0, 1, [0, 0, 4, 3, 0, 0, -2, -1]),
    {
      rating: 5,
    },
  ),
  loop(
    'Under the Stage',
    96,
    4,
    'D minor',
    'bass plucked',
    line(bassNote, 'D minor', 0, 0.5, [0, null, 0, 4, null, 2, 0, -3]),
  ),
  loop(
    'Winding the Clock',
    138,
    4,
    'G major',
    'bass plucked',
    line(bassNote, 'G major', 0, 1, [0, 4, 2, 3, 0, 1]),
    {
      meter: [3, 4],
    },
  ),
  loop(
    'Sleepy Watchman',
    94,
    4,
    'F major',
    'bass plucked',
    line(bassNote, 'F major', 0, 1, [0, 2, 4, 5, 3, 5, 4, 1]),
    {
      swing: 0.64,
    },
  ),
  loop(
    'Painted Sky',
    88.402,
    4,
    'A minor',
    'chords blown',
    chords(blown, 'A minor', 2, 4, [0, 5, 2, 6], [0]),
    { rating: 4 },
  ),
  loop(
    'Paper Moon',
    101.617,
    4,
    'C♯ minor',
    'chords plucked',
    chords(plucked, 'C♯ minor', 2, 3, [0, 5, 3, 4], [0, 1, 2]),
    {
      meter: [3, 4],
    },
  ),
  loop(
    'Three Lanterns',
    118,
    4,
    'B minor',
    'chords plucked',
    chords(plucked, 'B minor', 2, 4, [0, 5, 3, 4], [0.5, 1.5, 3]),
  ),
  loop('Velvet Curtain', 76.5, 2, 'E♭ major', 'pad blown', chords(blown, 'E♭ major', 2, 4, [0, 3], [0]), {
    rating: 3,
  }),
  loop(
    'Sunday Audience',
    124,
    4,
    'C major',
    'chords plucked',
    chords(plucked, 'C major', 2, 4, [0, 5, 3, 4], [0, 1, 2, 3]),
  ),
  loop(
    'Little Acrobat',
    113.87,
    4,
    'E minor',
    'lead plucked',
    line(plucked, 'E minor', 3, 0.5, [0, 2, 4, 7, 6, 4, 2, 1]),
    {
      rating: 5,
    },
  ),
  loop('Clockwork Bird', 138, 4, 'G major', 'lead struck', line(rung, 'G major', 3, 1, [0, 2, 4, 6, 4, 2]), {
    meter: [3, 4],
  }),
  loop(
    'Letter from Wilmot',
    82,
    4,
    'E minor',
    'lead blown',
    line(blown, 'E minor', 2, 1, [4, 3, 2, 0, 1, 2, 4, null]),
  ),
  loop(
    'Tin Soldiers',
    104,
    4,
    'D major',
    'lead plucked',
    line(plucked, 'D major', 3, 1 / 3, [0, 2, 4, 2, 1, 0, 3, 5, 4, 2, 1, 2]),
    {
      meter: [6, 8],
    },
  ),
  loop(
    'The Fox Explains',
    94,
    4,
    'F major',
    'lead plucked',
    line(plucked, 'F major', 3, 0.5, [4, 5, 4, 2, 0, null, 2, null]),
    {
      swing: 0.64,
    },
  ),
  loop(
    'Chambermaid Hums',
    88.402,
    4,
    'A minor',
    'voice sung',
    line(sung, 'A minor', 2, 2, [0, 2, 4, 3, 2, 1, 0, -1]),
  ),
  loop('Two Ghosts', 76.5, 2, 'E♭ major', 'voice sung', line(sung, 'E♭ major', 2, 2, [4, 2, 3, 1])),
  hit('Lantern Chime', 'A minor', 'effect struck', (stage) => bell(stage, 0, 81, 1)),
  hit('Dropped Anvil', null, 'drums struck', (stage) => bigDrum(stage, 0)),
  hit('Rope Creak', 'D minor', 'effect plucked', (stage) => pluck(stage, 0, 50, 1.4, 1, 0)),
];

/** A file of the property room, and what a curator settled of it. */
export interface PropertyFile {
  name: string;
  folder: string;
  make(): Uint8Array;
  settled: Partial<SettledState>;
}

function made({ bpm, meter, bars, swing, play, key }: Property, seed: number): Uint8Array {
  const [beatsPerBar, beatUnit] = meter;
  const beats = bars * feltBeatsPerBar({ beatsPerBar, beatUnit });
  const score = steadyScore(bpm ?? 120, 0, swing);
  const stage = makeStage(bpm === null ? 2 : score.at(beats), 44_100, seed);
  play(stage, score, beats);
  if (key && bpm !== null) addRoom(stage, 0.06, 0.5);
  normalise(stage);
  return encodeWave([stage.left, stage.right], stage.sampleRate, 16);
}

/** What the property room holds: drums, basses, chords, melodies, voices and single hits, in several tempi, meters and keys. */
export const PROPERTY_ROOM: readonly PropertyFile[] = PROPERTIES.map((property, i) => {
  const { name, bpm, meter, key, tags, rating, swing } = property;
  const [part, maker] = tags.split(' ');
  const found = ALL_KEYS.find((one) => keyLabel(one) === key);
  return {
    name: `${name}.wav`,
    folder: FOLDER,
    make: () => made(property, 40 + i),
    settled: {
      grid:
        bpm === null
          ? null
          : {
              tempoBpm: bpm,
              one: 0,
              meter: { beatsPerBar: meter[0], beatUnit: meter[1] },
              movingBeats: null,
            },
      key: found ?? { none: true },
      tuningCents: found ? 0 : null,
      kind: bpm === null ? 'oneshot' : 'loop',
      tags: [
        { facet: 'part', value: part },
        { facet: 'made by', value: maker },
        ...(bpm === null ? [] : [{ facet: 'feel' as const, value: swing > 0.5 ? 'swung' : 'straight' }]),
      ],
      origin: 'Pellworth Puppet Theatre, property room',
      licence: 'free for every puppet',
      rating,
    },
  };
});
