import { recordedMidi, type PlayedNote } from '@/core/formats/midiRecording';
import { randomFrom } from '@/demo/random';
import { movingScore } from '@/demo/score';
import { drawPart, type Part, type Setting } from './practiceParts';
import type { DrumName } from './practiceSounds';
import { DRAWN_STYLES, meterTruth } from './practiceStyles';
import { NAMES, type Truth } from './truth';

/** Keys of the percussion map of General MIDI. */
const DRUM_KEYS: Record<DrumName, number> = {
  kick: 36,
  rim: 37,
  snare: 38,
  brush: 40,
  hat: 42,
  low: 45,
  open: 46,
  high: 50,
  crash: 49,
  ride: 51,
  shaker: 70,
};
const DRUM_CHANNEL = 9;
/** How far from its place a note is played at most, s; the usual distance is about half. */
const LOOSEST_SECONDS = 0.03;

/** A performance that the training script plays itself on a keyboard that records MIDI, with its truth. */
export interface PracticePerformance {
  truth: Truth;
  bytes: Uint8Array;
}

/**
 * Plays a practice performance from a seed: the styles and parts of practice pieces on a piano or a kit, by somebody whom no
 * click holds. The tempo sways by one to three percent, notes are early and late; it begins with the one, after a
 * silence, or with an upbeat.
 */
export function practicePerformance(seed: number): PracticePerformance {
  const random = randomFrom(seed * 6029 + 71);
  const between = (a: number, b: number) => a + (b - a) * random();
  const pick = <T>(options: readonly T[]) => options[Math.floor(random() * options.length)];
  const style = pick(DRAWN_STYLES);
  const { beats, steps } = style;
  const onDrums = Object.keys(style.drums).length > 0 && random() < 0.4;
  const bpm = between(...style.tempo);
  const longest = 60 / ((60 / bpm) * beats);
  const bars = pick([4, 6, 8, 8, 12, 16, 16].filter((count) => count <= Math.max(4, longest)));
  const begin = pick(['zero', 'late', 'late', 'pickup'] as const);
  const upbeat = begin === 'pickup' ? pick([0.5, 1, 1, 1.5, 2]) : 0;
  const silence = begin === 'late' ? between(0.3, 3.5) : begin === 'pickup' && random() < 0.5 ? 0.6 : 0;

  // Two beats earlier than the one, for the upbeat.
  const score = movingScore(swaying(bpm, random), 0, 2 + (bars + 1) * beats);
  /** Seconds of a place, in beats from the one. */
  const at = (beat: number) => silence + score.at(beat + 2) - score.at(2 - upbeat);

  const swing = steps !== 3 && random() < (style.swing ?? 0) ? between(0.53, 0.66) : 0.5;
  const beatOf = (bar: number, step: number) =>
    bar * beats + (step + (swing !== 0.5 && Math.floor(step) % 2 === 1 ? (swing - 0.5) * 2 : 0)) / steps;
  const setting: Setting = {
    style,
    mode: pick(['major', 'minor'] as const),
    tonic: Math.floor(random() * 12),
    performed: false,
    random,
  };
  const part = drawPart(setting, onDrums, onDrums ? 0 : 1 + Math.floor(random() * 3), bars);
  const loose = between(0.2, 1) * LOOSEST_SECONDS;
  const early = () => loose * ((random() + random() + random()) / 1.5 - 1);
  const notes: PlayedNote[] = [];
  for (let bar = upbeat ? -1 : 0; bar < bars; bar++)
    for (const note of notesOf(part, bar)) {
      const beat = beatOf(bar, note.step);
      if (beat < -upbeat - 1e-6) continue;
      const time = Math.max(0, at(beat) + early());
      const end = at(Math.min(bars * beats, beatOf(bar, note.step + note.steps)));
      notes.push({
        time,
        seconds: Math.max(0.05, 0.95 * (end - at(beat))),
        key: note.key,
        velocity: Math.max(20, Math.min(120, Math.round(127 * note.gain * between(0.85, 1.1)))),
        channel: onDrums ? DRUM_CHANNEL : 0,
      });
    }

  const beatsOut = Array.from({ length: bars * beats }, (_, k) => at(k));
  const mean = (60 * bars * beats) / (at(bars * beats) - at(0));
  const truth: Truth = {
    id: `F${seed}`,
    file: `practice performance ${seed}: ${style.name}`,
    kind: 'midi',
    variant: `${onDrums ? 'drums' : 'piano'}-${begin}`,
    ...meterTruth(style, mean),
    beats: beatsOut,
    downbeats: beatsOut.filter((_, k) => k % beats === 0),
    bars,
    key: onDrums ? null : { tonic: NAMES[setting.tonic], mode: setting.mode },
  };
  return { truth, bytes: recordedMidi(notes) };
}

/** What a part plays in a bar: drums by their keys; tones as loud as a pianist's. */
function notesOf({ drums, layers, progressionBars }: Part, bar: number) {
  const within = (count: number) => ((bar % count) + count) % count;
  return [
    ...drums.flatMap(({ drum, hits }) =>
      hits[within(hits.length)].map(({ step, gain }) => ({
        ...{ step, steps: 0.5, key: DRUM_KEYS[drum] },
        gain: 0.35 + 0.5 * gain,
      })),
    ),
    ...layers.flatMap(({ notes }) =>
      notes(within(progressionBars)).map(({ step, steps, midi, gain }) => ({
        ...{ step, steps, key: midi },
        gain: Math.min(0.85, 0.3 + 0.6 * gain),
      })),
    ),
  ];
}

/** The tempo at each beat: two slow waves around it, and a little from beat to beat. */
function swaying(bpm: number, random: () => number): (beat: number) => number {
  const wave = () => {
    const [period, phase, depth] = [10 + 40 * random(), 2 * Math.PI * random(), 0.008 + 0.022 * random()];
    return (beat: number) => depth * Math.sin((2 * Math.PI * beat) / period + phase);
  };
  const [slow, slower] = [wave(), wave()];
  const restless = 0.004 + 0.012 * random();
  return (beat) => bpm * (1 + slow(beat) + slower(beat) + restless * (random() - 0.5));
}
