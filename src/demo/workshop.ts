import { encodeWave } from '@/core/formats/encodeWave';
import { bass, bell, bigDrum, cymbal, pluck, reeds, sideDrum, woodBlock } from './instruments';
import type { DemoFile } from './library';
import type { Piece } from './pieces';
import { randomFrom } from './random';
import { steadyScore } from './score';
import { makeStage, normalise } from './stage';

/** What a loop of the workshop is made of. */
interface WorkshopLoop {
  part: 'drums' | 'percussion' | 'bass' | 'chords' | 'lead';
  bpm: number;
  bars: number;
  beatsPerBar: 3 | 4;
  /** Tonic as a MIDI note of the lowest octave. */
  tonic: number;
  mode: 'major' | 'minor';
  /** Seconds before the one, as in a rough cut. */
  one: number;
  seed: number;
}

/** One loop of the theatre's workshop: its pattern is thrown by the seed, the same on every machine. */
function makeLoop({ part, bpm, bars, beatsPerBar, tonic, mode, one, seed }: WorkshopLoop): Piece {
  const random = randomFrom(seed);
  const score = steadyScore(bpm, one);
  const beats = bars * beatsPerBar;
  const stage = makeStage(score.at(beats) + one / 2, 44100, seed);
  const steps = mode === 'minor' ? [0, 3, 5, 7, 10] : [0, 2, 4, 7, 9];
  const degree = () => steps[Math.floor(random() * steps.length)];
  // One bar that comes again, with a turn in the last.
  const figure = Array.from({ length: beatsPerBar * 2 }, () => random());
  const notes = Array.from({ length: beatsPerBar * 2 }, degree);
  const roots = [0, ...Array.from({ length: bars - 1 }, () => [0, 5, 7][Math.floor(random() * 3)])];
  for (let bar = 0; bar < bars; bar++) {
    const first = bar * beatsPerBar;
    for (let e = 0; e < beatsPerBar * 2; e++) {
      const at = score.at(first + e / 2);
      const strong = e === 0;
      if (part === 'drums') {
        if (strong || (figure[e] > 0.75 && e % 4 !== 2)) bigDrum(stage, at, strong ? 1 : 0.7);
        if (e % 4 === 2) sideDrum(stage, at, 0.9);
        cymbal(stage, at, e % 2 ? 0.4 : 0.7);
      } else if (part === 'percussion') {
        if (strong || figure[e] > 0.45)
          woodBlock(stage, at, strong ? 620 : 880 + 200 * figure[e], strong ? 1 : 0.6);
      } else if (part === 'bass') {
        if (strong || figure[e] > 0.5)
          bass(
            stage,
            at,
            tonic + roots[bar] + (strong ? 0 : notes[e] % 12),
            (60 / bpm) * 0.45,
            strong ? 1 : 0.7,
          );
      } else if (part === 'chords') {
        if (strong || (e % 2 === 0 && figure[e] > 0.4))
          for (const n of [0, mode === 'minor' ? 3 : 4, 7])
            reeds(stage, at, tonic + 24 + ((roots[bar] + n) % 12), (60 / bpm) * 0.9, strong ? 0.8 : 0.5);
      } else if (strong || figure[e] > 0.35)
        pluck(stage, at, tonic + 36 + notes[e], 0.5, strong ? 1 : 0.7, 0, 440);
    }
  }
  if (part === 'lead' && bars > 2) bell(stage, score.at(beats - beatsPerBar), tonic + 48, 0.5);
  normalise(stage);
  const tonal = part === 'bass' || part === 'chords' || part === 'lead';
  return {
    stage,
    truth: {
      kind: 'loop',
      bpm,
      one,
      beatsPerBar,
      beatUnit: 4,
      key: tonal ? { tonic: tonic % 12, mode } : null,
      steady: true,
    },
  };
}

const WORDS = (
  'Tin Velvet Copper Paper Willow Lantern Sawdust Ribbon Bramble Hollow Pepper Cobble Feather Amber Thimble Marrow Pocket ' +
  'Tallow Barley Juniper Cinder Quill Mottle Sparrow Bobbin Saffron Mullion Larder Fiddle Gable'
).split(' ');
const THINGS =
  'Parade Waltz Shuffle Trot Procession Chase Lullaby Stroll Carousel Entrance Juggle Reel'.split(' ');
const PARTS = ['drums', 'percussion', 'bass', 'chords', 'lead'] as const;
const NOTES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];

/** Seconds a loop of the workshop should come near to. */
const LOOP_SECONDS = 8;

/**
 * Any number of loops of the workshop, as files with names as people give them: most tell tempo and key, some
 * the double or the half, some a number that is none.
 */
export function workshopFiles(count: number, seed = 1, folder = 'Pellworth/Workshop'): DemoFile[] {
  const random = randomFrom(seed);
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
  const files = new Map<string, DemoFile>();
  while (files.size < count) {
    const part = pick(PARTS);
    const beatsPerBar = random() < 0.15 ? 3 : 4;
    const bpm = Math.round(72 + random() * 90);
    const bars = Math.max(2, 2 * Math.round((LOOP_SECONDS * bpm) / 60 / beatsPerBar / 2));
    const tonic = 36 + Math.floor(random() * 12);
    const mode = random() < 0.6 ? 'minor' : 'major';
    const one = random() < 0.2 ? 0.05 + 0.3 * random() : 0;
    const loop: WorkshopLoop = {
      part,
      bpm,
      bars,
      beatsPerBar,
      tonic,
      mode,
      one,
      seed: seed * 7919 + files.size,
    };
    const key = NOTES[tonic % 12] + (mode === 'minor' ? 'm' : '');
    const tonal = part !== 'drums' && part !== 'percussion';
    const throwOf = random();
    const said = throwOf < 0.72 ? bpm : throwOf < 0.8 ? bpm * 2 : throwOf < 0.86 ? Math.round(bpm / 2) : null;
    const title = `${pick(WORDS)} ${pick(THINGS)} ${part}`;
    const name = [
      title,
      said === null ? `take ${1 + Math.floor(random() * 9)}` : random() < 0.7 ? `${said} bpm` : String(said),
      tonal && random() < 0.6 ? key : '',
    ]
      .filter(Boolean)
      .join(random() < 0.2 ? '_' : ' ');
    const file = `${name}.wav`;
    if (files.has(file)) continue;
    files.set(file, {
      name: file,
      folder: `${folder}/${part}`,
      make: () => {
        const { stage, truth } = makeLoop(loop);
        return { bytes: encodeWave([stage.left, stage.right], stage.sampleRate, 16), truth };
      },
    });
  }
  return [...files.values()];
}
