import type { Grid } from '../rhythm/grid';
import type { ClickMix, ClickSamples } from './click';
import type { Segment } from './segments';
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
  | { kind: 'at'; frame: number; commands: MixerCommand[] }
  | { kind: 'hear'; id: string; hearing: Hearing }
  | { kind: 'take'; id: string }
  | { kind: 'clear' }
  | { kind: 'start'; run: number; position: number; audibleFrom: number }
  | { kind: 'stop' }
  | { kind: 'legs'; segments: Segment[] }
  | { kind: 'speed'; speed: number }
  | { kind: 'hits'; hits: Float64Array }
  | { kind: 'grid'; grid: Grid | null }
  | { kind: 'click sound'; samples: ClickSamples }
  | { kind: 'mix'; mix: ClickMix };

/** Lets a mixer do what it is told. */
export function obey(mixer: Mixer, commands: MixerCommand) {
  if (commands.kind === 'put')
    mixer.put(
      commands.id,
      new PlainReader(commands.channels, commands.from, commands.to),
      commands.start,
      commands.hearing,
      commands.cut,
    );
  else if (commands.kind === 'go round')
    mixer.put(
      commands.id,
      new RoundReader(commands.channels, commands.turn),
      commands.start,
      commands.hearing,
      commands.cut,
    );
  else if (commands.kind === 'at')
    mixer.at(commands.frame, () => commands.commands.forEach((one) => obey(mixer, one)));
  else if (commands.kind === 'hear') mixer.hear(commands.id, commands.hearing);
  else if (commands.kind === 'take') mixer.take(commands.id);
  else if (commands.kind === 'clear') mixer.clear();
  else if (commands.kind === 'start') mixer.start(commands.position, commands.audibleFrom);
  else if (commands.kind === 'stop') mixer.stop();
  else if (commands.kind === 'legs') mixer.setSegments(commands.segments);
  else if (commands.kind === 'speed') mixer.setSpeed(commands.speed);
  else if (commands.kind === 'hits') mixer.setHits(commands.hits);
  else if (commands.kind === 'grid') mixer.setGrid(commands.grid);
  else if (commands.kind === 'click sound') mixer.setClickSamples(commands.samples);
  else mixer.setMix(commands.mix);
}
