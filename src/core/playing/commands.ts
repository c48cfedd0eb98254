import type { Grid } from '../rhythm/grid';
import type { ClickMix, ClickSamples } from './click';
import type { Leg } from './legs';
import type { Mixer } from './mixer';
import { PlainReader, RoundReader, type Cut, type Hearing } from './voice';

/** What the page tells the engine in the audio thread; frames are those of its clock. */
export type MixerCommand =
  /** A voice: frames from … to of its audio, from frame `start` on. */
  | {
      kind: 'put';
      id: string;
      channels: Float32Array[];
      from: number;
      to: number;
      start: number;
      hearing: Hearing;
      /** Null: it is heard to its end. */
      cut?: Cut | null;
    }
  /** A voice that goes round for ever: `turn` frames of the clock make a round, a fraction counts. */
  | {
      kind: 'go round';
      id: string;
      channels: Float32Array[];
      turn: number;
      start: number;
      hearing: Hearing;
      cut?: Cut | null;
    }
  /** All this, when the clock comes to a frame. */
  | { kind: 'at'; frame: number; told: MixerCommand[] }
  | { kind: 'hear'; id: string; hearing: Hearing }
  | { kind: 'take'; id: string }
  | { kind: 'clear' }
  | { kind: 'start'; run: number; position: number; audibleFrom: number }
  | { kind: 'stop' }
  | { kind: 'legs'; legs: Leg[] }
  | { kind: 'speed'; speed: number }
  | { kind: 'hits'; hits: Float64Array }
  | { kind: 'grid'; grid: Grid | null }
  | { kind: 'click sound'; samples: ClickSamples }
  | { kind: 'mix'; mix: ClickMix };

/** Lets a mixer do what it is told. */
export function obey(mixer: Mixer, told: MixerCommand) {
  if (told.kind === 'put')
    mixer.put(
      told.id,
      new PlainReader(told.channels, told.from, told.to),
      told.start,
      told.hearing,
      told.cut,
    );
  else if (told.kind === 'go round')
    mixer.put(told.id, new RoundReader(told.channels, told.turn), told.start, told.hearing, told.cut);
  else if (told.kind === 'at') mixer.at(told.frame, () => told.told.forEach((one) => obey(mixer, one)));
  else if (told.kind === 'hear') mixer.hear(told.id, told.hearing);
  else if (told.kind === 'take') mixer.take(told.id);
  else if (told.kind === 'clear') mixer.clear();
  else if (told.kind === 'start') mixer.start(told.position, told.audibleFrom);
  else if (told.kind === 'stop') mixer.stop();
  else if (told.kind === 'legs') mixer.setLegs(told.legs);
  else if (told.kind === 'speed') mixer.setSpeed(told.speed);
  else if (told.kind === 'hits') mixer.setHits(told.hits);
  else if (told.kind === 'grid') mixer.setGrid(told.grid);
  else if (told.kind === 'click sound') mixer.setClickSamples(told.samples);
  else mixer.setMix(told.mix);
}
