import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import type { Clock } from './clock';
import { eachStroke, type DrumSamples, type Stroke } from './drumPattern';

const GAIN = 0.6;
const SOFT_GAIN = 0.25;
const DRUM_GAINS: Readonly<Record<Stroke, number>> = { big: 0.7, side: 0.45, light: 0.15 };

/** How often it clicks: `pace` clicks a felt beat (half, one, two), each divided into `subdivision`. */
export interface ClickPace {
  pace: 0.5 | 1 | 2;
  subdivision: 1 | 2 | 3 | 4;
}

/** Accented on the first beat of each bar, plain on the others, soft on subdivisions. */
export type ClickKind = 'accented' | 'plain' | 'soft';

/** What the click sounds like and how loud it is against the audio. */
export interface ClickMix extends ClickPace {
  on: boolean;
  /** 0 … 2, linear. */
  level: number;
  accent: boolean;
  /** −1: audio only, 0: both in full, 1: click only. */
  balance: number;
  /** Audio in the left ear, click in the right one. */
  split: boolean;
  /** Drums instead of clicks, and how far they swing. */
  drums: boolean;
  swing: number;
}

/** Samples of the two sounds of a click, and of the drums. */
export interface ClickSamples {
  plain: Float32Array;
  accented: Float32Array;
  drums: DrumSamples;
}

/** Tells `each` of the clicks of a grid with from ≤ place < to, in frames at `rate`, rising. */
export function eachClick(
  grid: Grid,
  from: number,
  to: number,
  rate: number,
  { pace, subdivision }: ClickPace,
  each: (frame: number, kind: ClickKind) => void,
) {
  const size = feltBeatsPerBar(grid.meter);
  const perBeat = pace * subdivision;
  // One too many before: only the frames themselves are compared, so that two stretches that meet share none.
  for (let k = Math.ceil(beatPosition(grid, from / rate) * perBeat) - 1; ; k++) {
    const beat = k / perBeat;
    const frame = beatTime(grid, beat) * rate;
    if (frame >= to) return;
    if (frame < from) continue;
    const inBar = beat - Math.floor(beat / size + 1e-9) * size;
    each(frame, Math.abs(inBar) < 1e-6 ? 'accented' : k % subdivision === 0 ? 'plain' : 'soft');
  }
}

/** Sounds the clicks of a clock's grid, each from the frame that it stands on. */
export class Click {
  private samples: ClickSamples | null = null;
  private sounding: { samples: Float32Array; at: number; gain: number }[] = [];

  setSamples(samples: ClickSamples) {
    this.samples = samples;
  }

  /** Nothing sounds on. */
  silence() {
    this.sounding = [];
  }

  /** Begins the clicks that stand in the next `count` frames that are heard, which come `offset` into the block. */
  begin({ grid, position, speed, rate }: Clock, offset: number, count: number, mix: ClickMix) {
    const { samples } = this;
    if (!grid || !mix.on || !samples) return;
    const half = 0.5 * speed;
    const loud = mix.level * Math.min(1, 1 + mix.balance);
    const [from, to] = [position - half, position + count * speed - half];
    const sound = (frame: number, one: Float32Array, gain: number) =>
      this.sounding.push({
        samples: one,
        at: -(offset + Math.round((frame - position) / speed)),
        gain: loud * gain,
      });
    if (mix.drums)
      eachStroke(grid, from, to, rate, mix, (frame, stroke) =>
        sound(frame, samples.drums[stroke], DRUM_GAINS[stroke]),
      );
    else
      eachClick(grid, from, to, rate, mix, (frame, kind) =>
        sound(
          frame,
          mix.accent && kind === 'accented' ? samples.accented : samples.plain,
          kind === 'soft' ? SOFT_GAIN : GAIN,
        ),
      );
  }

  /** Adds a block of what sounds. */
  render(left: Float32Array, right: Float32Array, split: boolean) {
    if (this.sounding.length === 0) return;
    const count = left.length;
    for (const one of this.sounding) {
      for (let i = Math.max(0, -one.at); i < count && one.at + i < one.samples.length; i++) {
        const value = one.gain * one.samples[one.at + i];
        if (!split) left[i] += value;
        right[i] += value;
      }
      one.at += count;
    }
    this.sounding = this.sounding.filter((one) => one.at < one.samples.length);
  }
}
