import { bigDrum, cymbal, pluck, reeds, sideDrum } from '@/demo/instruments';
import { steadyScore } from '@/demo/score';
import { makeStage, normalise, type Stage } from '@/demo/stage';

export interface DrumPattern {
  bpm: number;
  bars: number;
  /** Silence (or what is put there) before the first downbeat, seconds. */
  one?: number;
  beatsPerBar?: number;
  swing?: number;
  /** Silence after the last bar, seconds. */
  tail?: number;
  seed?: number;
}

/** Plain drums: big drum on the one, side drum in the middle, cymbals on eighths. */
export function drums({
  bpm,
  bars,
  one = 0,
  beatsPerBar = 4,
  swing = 0.5,
  tail = 0,
  seed = 5,
}: DrumPattern): Stage {
  const score = steadyScore(bpm, one, swing);
  const stage = makeStage(score.at(bars * beatsPerBar) + tail, 44100, seed);
  for (let bar = 0; bar < bars; bar++) {
    const beat = bar * beatsPerBar;
    bigDrum(stage, score.at(beat));
    if (beatsPerBar === 4) {
      bigDrum(stage, score.at(beat + 2.5), 0.8);
      sideDrum(stage, score.at(beat + 1));
      sideDrum(stage, score.at(beat + 3));
    } else {
      for (let b = 1; b < beatsPerBar; b++) sideDrum(stage, score.at(beat + b), 0.5);
    }
    for (let e = 0; e < beatsPerBar * 2; e++) cymbal(stage, score.at(beat + e / 2), e % 2 ? 0.6 : 0.9);
  }
  normalise(stage);
  return stage;
}

/** Four bars that may be felt on two levels: at 120 BPM in half time, or at 60. */
export function halfTime(): Stage {
  const score = steadyScore(120);
  const stage = makeStage(score.at(16), 44100, 5);
  for (let bar = 0; bar < 4; bar++) {
    bigDrum(stage, score.at(4 * bar));
    sideDrum(stage, score.at(4 * bar + 2));
    for (let beat = 0; beat < 4; beat++) cymbal(stage, score.at(4 * bar + beat), 0.9);
  }
  normalise(stage);
  return stage;
}

/** Chords of a key (I IV V I, or i iv v i) over a plucked bass, two seconds each, at a tuning of A4. */
export function chords(tonicMidi: number, mode: 'major' | 'minor', tuning = 440): Stage {
  const stage = makeStage(16.5, 44100, 6);
  const third = mode === 'major' ? 4 : 3;
  [0, 5, 7, 0, 5, 0, 7, 0].forEach((degree, i) => {
    const root = tonicMidi + degree;
    const thirdHere = mode === 'minor' && degree === 7 ? 4 : third;
    pluck(stage, i * 2, root - 12, 1.9, 1, 0, tuning);
    for (const n of [0, thirdHere, 7]) reeds(stage, i * 2, root + n, 1.9, 0.8, 0, tuning);
  });
  normalise(stage);
  return stage;
}

/** The mean of both channels. */
export function monoOf({ left, right }: Stage): Float32Array {
  return left.map((value, i) => 0.5 * (value + right[i]));
}
