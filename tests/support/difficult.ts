import { encodeWave } from '@/core/formats/encodeWave';
import { bass, bigDrum, cymbal, pluck, reeds, sideDrum, voice } from '@/demo/instruments';
import { randomFrom } from '@/demo/random';
import { movingScore, steadyScore, type Score } from '@/demo/score';
import { addRoom, makeStage, normalise, type Stage } from '@/demo/stage';
import { drums } from './music';

/** Pieces that are hard to measure, each with its truth. */
export interface DifficultPiece {
  bytes: Uint8Array;
  durationSeconds: number;
  bpm: number;
  one: number;
}

const file = (stage: Stage, bpm: number, one: number): DifficultPiece => {
  normalise(stage);
  return {
    bytes: encodeWave([stage.left, stage.right], stage.sampleRate),
    durationSeconds: stage.left.length / stage.sampleRate,
    bpm,
    one,
  };
};

function drumBars(stage: Stage, score: Score, bars: number, from = 0) {
  for (let bar = from; bar < from + bars; bar++) {
    const beat = bar * 4;
    bigDrum(stage, score.at(beat));
    bigDrum(stage, score.at(beat + 2.5), 0.7);
    sideDrum(stage, score.at(beat + 1));
    sideDrum(stage, score.at(beat + 3));
    for (let e = 0; e < 8; e++) cymbal(stage, score.at(beat + e / 2), e % 2 ? 0.5 : 0.8);
  }
}

/** Three struck notes lead to the one. */
export function pickupPiece(): DifficultPiece {
  const [bpm, one] = [97.3, 2.2];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(48) + 0.4, 44100, 401);
  for (const [beat, note] of [
    [-3, 62],
    [-2, 64],
    [-1, 66],
  ])
    pluck(stage, score.at(beat), note, 0.4, 1);
  drumBars(stage, score, 12);
  for (let bar = 0; bar < 12; bar++) bass(stage, score.at(bar * 4), [38, 43, 45, 38][bar % 4], 0.8);
  return file(stage, bpm, one);
}

/** Twelve seconds of held chords without a beat, then drums. */
export function introPiece(): DifficultPiece {
  const [bpm, one] = [100.7, 12.35];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(48) + 0.4, 44100, 402);
  for (const [at, root] of [
    [0.3, 57],
    [3.9, 53],
    [7.6, 60],
  ])
    for (const n of [0, 4, 7]) reeds(stage, at, root + n, 3.4, 0.5);
  drumBars(stage, score, 12);
  return file(stage, bpm, one);
}

/** A breath of noise before the first hit. */
export function breathPiece(): DifficultPiece {
  const [bpm, one] = [110.4, 0.9];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(32) + 0.2, 44100, 403);
  drumBars(stage, score, 8);
  const random = randomFrom(11);
  for (let i = 0; i < one * 44100; i++) {
    const swell = 0.05 * (i / (one * 44100));
    stage.left[i] += swell * (random() - 0.5);
    stage.right[i] += swell * (random() - 0.5);
  }
  return file(stage, bpm, one);
}

/** Slow drums with busy cymbals: easily taken for the double. */
export function slowPiece(): DifficultPiece {
  const [bpm, one] = [74.6, 0.15];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(32) + 0.2, 44100, 404);
  for (let bar = 0; bar < 8; bar++) {
    bigDrum(stage, score.at(bar * 4));
    sideDrum(stage, score.at(bar * 4 + 2));
    for (let s = 0; s < 16; s++) cymbal(stage, score.at(bar * 4 + s / 4), s % 4 ? 0.5 : 0.8);
  }
  return file(stage, bpm, one);
}

/** Six eighths to the bar, felt in two. */
export function jigPiece(): DifficultPiece {
  const [bpm, one] = [106, 0.1];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(32) + 0.2, 44100, 405);
  for (let beat = 0; beat < 32; beat++) {
    if (beat % 2 === 0) bigDrum(stage, score.at(beat));
    else sideDrum(stage, score.at(beat), 0.7);
    for (let e = 0; e < 3; e++) cymbal(stage, score.at(beat) + (e / 3) * score.span(beat, 1), e ? 0.4 : 0.8);
  }
  return file(stage, bpm, one);
}

/** Swung eighths. */
export function swingPiece(): DifficultPiece {
  const [bpm, one] = [122.4, 0.2];
  const stage = drums({ bpm, bars: 12, one, swing: 0.66, seed: 406 });
  return file(stage, bpm, one);
}

/** Somebody who speeds up from 94 to 101. */
export function driftPiece(): DifficultPiece & { score: Score } {
  const one = 0.3;
  const score = movingScore((beat) => 94 + (7 * beat) / 96, one, 96);
  const stage = makeStage(score.at(95.99) + 0.8, 44100, 407);
  drumBars(stage, score, 24);
  return { ...file(stage, 97.5, one), score };
}

/** Sixteen bars at 96, then sixteen at 104. */
export function changePiece(): DifficultPiece {
  const one = 0.25;
  const score = movingScore((beat) => (beat < 64 ? 96 : 104), one, 128);
  const stage = makeStage(score.at(127.99) + 0.8, 44100, 408);
  drumBars(stage, score, 32);
  return file(stage, 100, one);
}

/** A humming voice alone. */
export function voicePiece(): DifficultPiece {
  const [bpm, one] = [71.5, 0.5];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(32) + 1, 44100, 409);
  const tune = [64, 67, 69, 71, 69, 67, 66, 64, 62, 64, 66, 67, 69, 67, 64, 64];
  tune.forEach((note, i) => voice(stage, score.at(i * 2), note, score.span(i * 2, 1.8), 1));
  addRoom(stage, 0.2, 1);
  return file(stage, bpm, one);
}

/** Four bars whose last chord rings over the end. */
export function tailPiece(): DifficultPiece {
  const [bpm, one] = [88, 0.12];
  const score = steadyScore(bpm, one);
  const stage = makeStage(score.at(16) + 2.6, 44100, 410);
  drumBars(stage, score, 4);
  for (const n of [57, 60, 64]) reeds(stage, score.at(14), n, score.span(14, 3.2), 1.1);
  addRoom(stage, 0.35, 2);
  return file(stage, bpm, one);
}
