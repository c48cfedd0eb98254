import { bass, bell, bigDrum, cymbal, pluck, reeds, sideDrum, voice, woodBlock } from './instruments';
import { movingScore, steadyScore, type Score } from './score';
import { addRoom, makeStage, normalise, type Stage } from './stage';

/** What is true of a piece by construction. */
export interface PieceTruth {
  kind: 'song' | 'loop' | 'stem' | 'oneshot' | 'midi';
  bpm: number | null;
  one: number | null;
  beatsPerBar: number | null;
  beatUnit: number | null;
  /** Tonic pitch class and mode; null for no key. */
  key: { tonic: number; mode: 'major' | 'minor' } | null;
  steady: boolean;
}

export interface Piece {
  stage: Stage;
  truth: PieceTruth;
}

type Chord = { root: number; notes: number[] };
const minor = (root: number): Chord => ({ root, notes: [0, 3, 7] });
const major = (root: number): Chord => ({ root, notes: [0, 4, 7] });

const truth = (partial: Partial<PieceTruth>): PieceTruth => ({
  kind: 'loop',
  bpm: null,
  one: 0,
  beatsPerBar: 4,
  beatUnit: 4,
  key: null,
  steady: true,
  ...partial,
});

/** Four-beat drums for one bar; `busy` adds sixteenths. */
function drumBar(stage: Stage, score: Score, beat: number, bar: number, busy = false) {
  const kicks = bar % 2 ? [0, 1.5, 2.5] : [0, 2.5];
  for (const k of kicks) bigDrum(stage, score.at(beat + k), k === 0 ? 1 : 0.85);
  for (const s of [1, 3]) sideDrum(stage, score.at(beat + s));
  for (let e = 0; e < 8; e++)
    cymbal(stage, score.at(beat + e / 2), e % 2 ? 0.6 : 0.9, e === 7 && bar % 4 === 3);
  if (busy) for (let e = 0; e < 8; e++) cymbal(stage, score.at(beat + e / 2 + 0.25), 0.3);
}

function strum(
  stage: Stage,
  score: Score,
  beat: number,
  beats: number,
  chord: Chord,
  octave: number,
  gain = 0.6,
) {
  chord.notes.forEach((n, i) =>
    pluck(
      stage,
      score.at(beat) + i * 0.004,
      chord.root + n + octave,
      score.span(beat, beats),
      gain,
      -0.3 + 0.2 * i,
    ),
  );
}

/** A loop of four bars in D minor, cut exactly. */
export function curtainGroove(): Piece {
  const bpm = 96;
  const score = steadyScore(bpm);
  const stage = makeStage(score.at(16), 44100, 11);
  const chords = [minor(50), major(46), major(53), major(48)];
  chords.forEach((chord, bar) => {
    drumBar(stage, score, bar * 4, bar, true);
    for (const [b, n] of [
      [0, 0],
      [1.5, 0],
      [2.5, 7],
      [3.5, 12],
    ])
      bass(stage, score.at(bar * 4 + b), chord.root - 12 + n, score.span(bar * 4 + b, 0.45), 0.9);
    for (const b of [0.5, 1.5, 3]) strum(stage, score, bar * 4 + b, 0.4, chord, 12, 0.55);
  });
  normalise(stage);
  return { stage, truth: truth({ bpm, key: { tonic: 2, mode: 'minor' } }) };
}

/** The same kind of loop with air before the one and a ragged end. */
export function ropeWalk(): Piece {
  const bpm = 110.4;
  const one = 0.183;
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(16) + 0.26, 48000, 12);
  const chords = [minor(57), minor(57), major(53), major(55)];
  chords.forEach((chord, bar) => {
    drumBar(stage, score, bar * 4, bar);
    for (let b = 0; b < 4; b++)
      bass(stage, score.at(bar * 4 + b), chord.root - 24 + (b === 3 ? 7 : 0), score.span(bar * 4, 0.8), 0.9);
    reedsChord(stage, score, bar * 4, 3.6, chord, 0);
  });
  bigDrum(stage, score.at(16), 0.7);
  normalise(stage);
  return { stage, truth: truth({ bpm, one, key: { tonic: 9, mode: 'minor' } }) };
}

function reedsChord(
  stage: Stage,
  score: Score,
  beat: number,
  beats: number,
  chord: Chord,
  octave: number,
  gain = 0.7,
) {
  for (const n of chord.notes)
    reeds(stage, score.at(beat), chord.root + n + octave, score.span(beat, beats), gain);
}

/** Eight bars of waltz in G major. */
export function stiltWaltz(): Piece {
  const bpm = 138;
  const score = steadyScore(bpm);
  const stage = makeStage(score.at(24), 44100, 13);
  const chords = [major(55), major(55), major(60), major(62), minor(52), major(60), major(62), major(55)];
  const tune = [71, 74, 79, 78, 76, 72, 74, 71];
  chords.forEach((chord, bar) => {
    const beat = bar * 3;
    bigDrum(stage, score.at(beat));
    bass(stage, score.at(beat), chord.root - 24, score.span(beat, 0.9));
    for (const b of [1, 2]) {
      woodBlock(stage, score.at(beat + b), 780, 0.6);
      strum(stage, score, beat + b, 0.5, chord, 0, 0.5);
    }
    bell(stage, score.at(beat), tune[bar], 0.9);
    if (bar % 2) bell(stage, score.at(beat + 2), tune[bar] + (bar === 7 ? -4 : 2) - 2, 0.5);
  });
  normalise(stage);
  return { stage, truth: truth({ bpm, beatsPerBar: 3, key: { tonic: 7, mode: 'major' } }) };
}

/** Four bars of jig in D major: 6/8, felt in two. */
export function hobbyHorseJig(): Piece {
  const bpm = 104;
  const score = steadyScore(bpm);
  const stage = makeStage(score.at(16), 44100, 14);
  const tune = [
    74, 78, 81, 78, 76, 73, 74, 78, 81, 86, 83, 81, 79, 76, 79, 78, 74, 78, 76, 73, 69, 73, 76, 79, 78, 74,
    69, 73, 74, 74,
  ];
  const roots = [50, 45, 50, 55, 50, 45, 57, 50];
  for (let bar = 0; bar < 8; bar++) {
    const beat = bar * 2;
    bigDrum(stage, score.at(beat));
    sideDrum(stage, score.at(beat + 1), 0.6);
    bass(stage, score.at(beat), roots[bar] - 12, score.span(beat, 0.6));
    bass(stage, score.at(beat + 1), roots[bar] - 5, score.span(beat, 0.5), 0.7);
    for (let e = 0; e < 6; e++) {
      const at = score.at(beat) + (e / 3) * score.span(beat, 1);
      cymbal(stage, at, e % 3 === 0 ? 0.8 : 0.45);
      pluck(
        stage,
        at,
        tune[(bar * 6 + e) % tune.length],
        score.span(beat, 0.3),
        e % 3 === 0 ? 0.9 : 0.6,
        0.2,
      );
    }
  }
  normalise(stage);
  return { stage, truth: truth({ bpm, beatsPerBar: 6, beatUnit: 8, key: { tonic: 2, mode: 'major' } }) };
}

/** Four bars of swing at a tempo that is no whole number. */
export function lanternSwing(): Piece {
  const bpm = 88.402;
  const score = steadyScore(bpm, 0, 0.655);
  const stage = makeStage(score.at(16), 44100, 15);
  const walk = [41, 45, 48, 50, 46, 50, 53, 50, 43, 46, 50, 53, 48, 46, 45, 43];
  walk.forEach((note, beat) => {
    bass(stage, score.at(beat), note, score.span(beat, 0.9), 1);
    cymbal(stage, score.at(beat), 0.9, true);
    cymbal(stage, score.at(beat + 0.5), 0.55);
    if (beat % 4 === 0) bigDrum(stage, score.at(beat), 0.8);
    if (beat % 2 === 1) sideDrum(stage, score.at(beat), 0.5);
  });
  const chords = [major(53), major(58), minor(55), major(60)];
  chords.forEach((chord, bar) => {
    for (const b of [0.5, 2.5]) strum(stage, score, bar * 4 + b, 0.5, chord, 12, 0.5);
  });
  normalise(stage);
  return { stage, truth: truth({ bpm, key: { tonic: 5, mode: 'major' } }) };
}

/** A heavy slow beat that its name takes for its double. */
export function trapdoor(): Piece {
  const bpm = 82;
  const score = steadyScore(bpm);
  const stage = makeStage(score.at(16), 44100, 16);
  for (let bar = 0; bar < 4; bar++) {
    const beat = bar * 4;
    for (const k of bar % 2 ? [0, 0.75, 2.5] : [0, 2.75]) bigDrum(stage, score.at(beat + k));
    for (const s of [1, 3]) {
      sideDrum(stage, score.at(beat + s), 1.1);
      woodBlock(stage, score.at(beat + s), 620, 0.7);
    }
    for (let e = 0; e < 8; e++) cymbal(stage, score.at(beat + e / 2), e % 2 ? 0.4 : 0.7);
    const root = [40, 40, 43, 38][bar];
    bass(stage, score.at(beat), root - 12, score.span(beat, 1.6), 1);
    bass(stage, score.at(beat + 2.5), root - 12, score.span(beat, 0.4), 0.9);
    pluck(stage, score.at(beat + 1.5), root + 24, score.span(beat, 1), 0.6, 0.4);
    pluck(stage, score.at(beat + 2), root + 31, score.span(beat, 1.5), 0.6, -0.4);
  }
  addRoom(stage, 0.18, 0.7);
  normalise(stage);
  return { stage, truth: truth({ bpm, key: { tonic: 4, mode: 'minor' } }) };
}

/** Drums alone; the number in its name counts takes. */
export function stagehandDrums(): Piece {
  const bpm = 124;
  const score = steadyScore(bpm);
  const stage = makeStage(score.at(32), 44100, 17);
  for (let bar = 0; bar < 8; bar++) {
    for (let b = 0; b < 4; b++) {
      bigDrum(stage, score.at(bar * 4 + b));
      cymbal(stage, score.at(bar * 4 + b + 0.5), 1, true);
      cymbal(stage, score.at(bar * 4 + b + 0.25), 0.35);
    }
    for (const s of [1, 3]) sideDrum(stage, score.at(bar * 4 + s), 0.8);
    if (bar % 4 === 3) for (const s of [3.25, 3.5, 3.75]) sideDrum(stage, score.at(bar * 4 + s), 0.6);
  }
  normalise(stage);
  return { stage, truth: truth({ bpm }) };
}

/** A song: reeds without a beat, a pickup of two beats, then verse and refrain in A minor. */
export function mothAndLantern(): Piece {
  const bpm = 100;
  const intro = 5.2;
  const one = intro + (2 * 60) / bpm;
  const bars = 20;
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(bars * 4) + 2.4, 44100, 18);
  for (const n of [45, 57, 60, 64]) reeds(stage, 0.25, n, intro - 0.6, 0.7);
  pluck(stage, score.at(-2), 64, score.span(0, 0.9), 0.9, 0.1);
  pluck(stage, score.at(-1), 67, score.span(0, 0.9), 0.9, 0.1);
  const verse = [minor(57), major(53), major(60), major(55)];
  const refrain = [major(53), major(55), minor(57), minor(57)];
  const tune = [69, 72, 76, 74, 72, 69, 67, 69];
  for (let bar = 0; bar < bars; bar++) {
    const beat = bar * 4;
    const isRefrain = bar >= 8 && bar < 16;
    const chord = (isRefrain ? refrain : verse)[bar % 4];
    drumBar(stage, score, beat, bar, isRefrain);
    for (const b of [0, 2, 3.5])
      bass(
        stage,
        score.at(beat + b),
        chord.root - 24 + (b === 3.5 ? 7 : 0),
        score.span(beat, b === 0 ? 1.6 : 0.6),
      );
    for (let e = 0; e < 4; e++)
      pluck(
        stage,
        score.at(beat + e + 0.5),
        chord.root + chord.notes[e % 3] + 12,
        score.span(beat, 0.5),
        0.4,
        -0.4,
      );
    voice(stage, score.at(beat), tune[bar % 8], score.span(beat, 1.4), 0.9);
    voice(stage, score.at(beat + 2), tune[(bar + 3) % 8], score.span(beat, 1.7), 0.8);
    if (isRefrain) reedsChord(stage, score, beat, 3.8, chord, 12, 0.5);
  }
  for (const n of [45, 57, 64, 69]) pluck(stage, score.at(bars * 4), n, 2, 0.9, 0);
  bigDrum(stage, score.at(bars * 4));
  addRoom(stage, 0.12, 0.8);
  normalise(stage);
  return { stage, truth: truth({ kind: 'song', bpm, one, key: { tonic: 9, mode: 'minor' } }) };
}

/** A waltz played without a click: it hurries and holds back. */
export function oldBellows(): Piece & { beatTimes: number[] } {
  const beats = 28 * 3;
  const bpmAt = (beat: number) => 116 + 6 * Math.sin(beat / 17) + 3 * Math.sin(beat / 6.1 + 1);
  const one = 0.34;
  const score = movingScore(bpmAt, one, beats);
  const stage = makeStage(score.at(beats) + 1.6, 44100, 19);
  const chords = [major(48), major(48), major(53), major(48), minor(57), major(50), major(55), major(55)];
  const tune = [76, 79, 77, 76, 72, 74, 74, 79];
  for (let bar = 0; bar < 28; bar++) {
    const chord = chords[bar % 8];
    const beat = bar * 3;
    bass(stage, score.at(beat), chord.root - 12, score.span(beat, 0.9));
    bigDrum(stage, score.at(beat), 0.6);
    for (const b of [1, 2]) {
      for (const n of chord.notes)
        reeds(stage, score.at(beat + b), chord.root + n, score.span(beat, 0.35), 0.8);
      woodBlock(stage, score.at(beat + b), 700, 0.3);
    }
    reeds(stage, score.at(beat), tune[bar % 8], score.span(beat, 1.8), 1.3, 0.2);
    reeds(stage, score.at(beat + 2), tune[(bar + 1) % 8] - 2, score.span(beat, 0.8), 1.1, 0.2);
  }
  for (const n of [48, 60, 64, 67, 72]) reeds(stage, score.at(beats), n, 1.2, 0.9);
  addRoom(stage, 0.15, 0.9);
  normalise(stage);
  const average = (60 * beats) / (score.beatTimes[beats] - one);
  return {
    stage,
    beatTimes: score.beatTimes,
    truth: truth({
      kind: 'song',
      bpm: average,
      one,
      beatsPerBar: 3,
      key: { tonic: 0, mode: 'major' },
      steady: false,
    }),
  };
}

export const PARADE_STEMS = ['Drums', 'Bass', 'Chords', 'Bells', 'Humming'] as const;

/** One stem of a piece of twelve bars in B minor; all begin together, most with silence. */
export function nightParade(stem: (typeof PARADE_STEMS)[number]): Piece {
  const bpm = 118;
  const one = 0.5;
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(48) + 1, 44100, 20);
  const chords = [minor(59), major(55), major(62), major(57)];
  for (let bar = 0; bar < 12; bar++) {
    const chord = chords[bar % 4];
    const beat = bar * 4;
    if (stem === 'Drums') drumBar(stage, score, beat, bar, bar >= 4);
    if (stem === 'Bass' && bar >= 2) {
      for (const b of [0, 1, 2, 3]) bass(stage, score.at(beat + b), chord.root - 24, score.span(beat, 0.7));
      bass(stage, score.at(beat + 3.5), chord.root - 17, score.span(beat, 0.4), 0.8);
    }
    if (stem === 'Chords' && bar >= 4)
      for (const b of [0.5, 1.5, 2.5, 3.5]) strum(stage, score, beat + b, 0.4, chord, 0, 0.7);
    if (stem === 'Bells' && bar >= 4)
      for (let e = 0; e < 4; e++) bell(stage, score.at(beat + e), chord.root + 12 + chord.notes[e % 3], 0.8);
    if (stem === 'Humming' && bar >= 8)
      voice(stage, score.at(beat), chord.root + 12 + chord.notes[bar % 3], score.span(beat, 3.6), 1);
  }
  normalise(stage, 0.7);
  const key = stem === 'Drums' ? null : ({ tonic: 11, mode: 'minor' } as const);
  return { stage, truth: truth({ kind: 'loop', bpm, one, key }) };
}

/** A lone melody without drums in E minor. */
export function lullaby(): Piece {
  const bpm = 66;
  const one = 0.42;
  const score = steadyScore(bpm, one);
  // prettier-ignore
  const notes: [number, number][] = [
    [64, 1], [67, 1], [71, 2], [69, 1], [67, 1], [66, 1], [64, 1],
    [67, 1], [69, 1], [71, 1], [74, 1], [71, 3], [69, 1],
    [67, 1], [66, 1], [64, 2], [71, 1], [69, 1], [67, 1], [66, 1],
    [64, 1], [62, 1], [64, 2], [59, 1], [63, 1], [64, 2],
  ];
  const total = notes.reduce((sum, [, beats]) => sum + beats, 0);
  const stage = makeStage(score.at(total) + 0.8, 44100, 21);
  let beat = 0;
  for (const [note, beats] of notes) {
    voice(stage, score.at(beat), note, score.span(beat, beats * 0.92), 1);
    beat += beats;
  }
  addRoom(stage, 0.2, 1.2);
  normalise(stage, 0.7);
  return { stage, truth: truth({ bpm, one, key: { tonic: 4, mode: 'minor' } }) };
}

const shot = (seconds: number, seed: number, play: (stage: Stage) => void, room = 0): Piece => {
  const stage = makeStage(seconds, 44100, seed);
  play(stage);
  if (room) addRoom(stage, room, 0.6);
  normalise(stage);
  return { stage, truth: truth({ kind: 'oneshot', one: null, beatsPerBar: null, beatUnit: null }) };
};

export const glassBell = () => shot(2.2, 31, (stage) => bell(stage, 0.01, 81, 1, 0));
export const handClack = () => shot(0.35, 32, (stage) => woodBlock(stage, 0.004, 1040, 1, 0), 0.1);
export const parlourDrum = () => shot(0.9, 33, (stage) => bigDrum(stage, 0.006), 0.25);
