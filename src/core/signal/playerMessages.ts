import type { ClickMix, ClickTrack, ClickVoices, Leg } from './playback';

/** What the page tells the player in the audio thread. */
export type ToPlayer =
  | { kind: 'load'; channels: Float32Array[] }
  | { kind: 'start'; run: number; position: number; audibleFrom: number }
  | { kind: 'stop' }
  | { kind: 'route'; route: Leg[] }
  | { kind: 'speed'; speed: number }
  | { kind: 'hits'; hits: Float64Array }
  | { kind: 'clicks'; clicks: ClickTrack }
  | { kind: 'voices'; voices: ClickVoices }
  | { kind: 'mix'; mix: ClickMix };

/** What it answers: the frame that is played at `time` on the context's clock. */
export interface FromPlayer {
  /** Which start the report belongs to. */
  run: number;
  position: number;
  time: number;
  playing: boolean;
}
