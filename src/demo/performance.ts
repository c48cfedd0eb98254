import { recordedMidi, type PlayedNote } from '@/core/formats/midiRecording';
import type { PieceTruth } from './pieces';
import { randomFrom } from './random';
import { movingScore } from './score';

/**
 * The understudy at the rehearsal piano: sixteen bars of 4/4 in A minor around 88 BPM, bass and chords under a
 * tune, pushed and held back as a player does who follows the puppets. It begins after somebody has cleared
 * their throat.
 */
export function rehearsalPiano(): { bytes: Uint8Array; truth: PieceTruth } {
  const random = randomFrom(88);
  const [bpm, one, bars] = [88, 0.9, 16];
  const score = movingScore((beat) => bpm * (1 + 0.02 * Math.sin(beat / 9)), one, bars * 4 + 1);
  const notes: PlayedNote[] = [];
  const play = (beat: number, beats: number, key: number, velocity: number) =>
    notes.push({
      time: score.at(beat) + 0.012 * (random() - 0.5),
      seconds: 0.92 * score.span(beat, beats),
      key,
      velocity: Math.round(velocity + 10 * (random() - 0.5)),
    });
  const roots = [45, 41, 48, 43];
  const thirds = [3, 4, 4, 4];
  const tune = [9, 11, 12, 16, 14, 12, 11, 7];
  for (let bar = 0; bar < bars; bar++) {
    const beat = bar * 4;
    const root = roots[bar % 4];
    play(beat, 1, root, 84);
    play(beat + 2, 1, root + 7, 70);
    for (const chuck of [1, 3])
      for (const third of [0, thirds[bar % 4], 7]) play(beat + chuck, 0.6, root + 12 + third, 56);
    if (bar >= 4)
      for (const [place, step] of [
        [0, 2 * bar],
        [1, 2 * bar + 1],
        [1.5, 2 * bar + 3],
        [2, 2 * bar + 2],
        [3.5, 2 * bar + 5],
      ])
        play(beat + place, 0.5, 60 + tune[step % tune.length], place % 1 ? 66 : 80);
  }
  for (const third of [0, 12, 15, 19]) play(bars * 4, 1, 45 + third, 76);
  return {
    bytes: recordedMidi(notes),
    truth: {
      kind: 'midi',
      bpm: (60 * bars * 4) / (score.at(bars * 4) - one),
      one,
      beatsPerBar: 4,
      beatUnit: 4,
      key: { tonic: 9, mode: 'minor' },
      steady: false,
    },
  };
}
