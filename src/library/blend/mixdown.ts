import { timeStretchOf, laterBy } from '@/core/timeStretch/plan';
import { timeStretch } from '@/core/timeStretch/voice';
import type { ClickMix } from '@/core/playing/click';
import { clickSound } from '@/core/playing/clickSound';
import { drumSamples } from '@/core/playing/drumPattern';
import { obey } from '@/core/playing/commands';
import { FADE_FRAMES, Mixer } from '@/core/playing/mixer';
import { PlainReader, type Hearing } from '@/core/playing/voice';
import type { Grid } from '@/core/rhythm/grid';
import { messageOf } from './hearing';
import type { Part } from './parts';

const BLOCK = 4096;

/** What the parts of a lane come to at a rate, in their order. */
export type Fitted = ReadonlyMap<Part, Float32Array[]>;

/** Fits everything that a lane's parts need, one after the other; what two parts share is fitted once. Yields how many frames were made. */
export function* partsFitted(
  parts: readonly Part[],
  source: readonly Float32Array[],
  rate: number,
): Generator<number, Fitted, void> {
  const byPlan = new Map<string, Float32Array[]>();
  const found = new Map<Part, Float32Array[]>();
  for (const part of parts) {
    const name = JSON.stringify(part.plan);
    let channels = byPlan.get(name);
    if (!channels) {
      const wanted = timeStretchOf(part.plan, rate, source[0].length);
      const { first, size } = wanted;
      const read = source.map((channel) => channel.subarray(first, first + size));
      channels = read.map(() => new Float32Array(wanted.timeStretch.length));
      let made = 0;
      for (const progress of timeStretch(read, wanted.timeStretch, channels)) {
        yield progress.made - made;
        made = progress.made;
      }
      byPlan.set(name, channels);
    }
    found.set(part, channels);
  }
  return found;
}

/** From … to, seconds from bar 1, at a rate. */
interface Span {
  from: number;
  to: number;
  rate: number;
}

/** Mixes what was fitted as the page would play it: stereo. `hearing`: how each part is heard. */
export function mixed(
  parts: readonly { part: Part; channels: Float32Array[]; hearing: Hearing }[],
  span: Span,
): [Float32Array, Float32Array] {
  return rendered(span, (mixer, origin) =>
    parts.forEach(({ part, channels, hearing }, i) =>
      obey(mixer, messageOf(part, String(i), channels, { rate: span.rate, origin, hearing })),
    ),
  );
}

/** The click of a ruler alone. */
export function clicked(grid: Grid, span: Span): [Float32Array, Float32Array] {
  const { rate, from } = span;
  return rendered(span, (mixer) => {
    mixer.setGrid(laterBy(grid, -from));
    const samples = (isAccented: boolean) => clickSound('wood', isAccented, rate);
    mixer.setClickSamples({ plain: samples(false), accented: samples(true), drums: drumSamples(rate) });
    mixer.setMix(CLICK);
  });
}

const CLICK: ClickMix = {
  ...{ on: true, level: 1, accent: true, balance: 0, split: false, pace: 1, subdivision: 1 },
  ...{ drums: false, swing: 0.5 },
};

/** Lets a mixer run from one place to another. `prepare` gets the frame of its clock on which bar 1 begins. */
function rendered(
  { from, to, rate }: Span,
  prepare: (mixer: Mixer, origin: number) => void,
): [Float32Array, Float32Array] {
  const mixer = new Mixer(rate);
  const frames = Math.round((to - from) * rate);
  prepare(mixer, Math.round(-from * rate));
  // The clock goes to the end, however soon the last voice has ended.
  mixer.put('the end', new PlainReader([new Float32Array(frames)], 0, frames), 0, SILENT);
  // It fades in over the frames before the first.
  mixer.start(0);
  mixer.render(new Float32Array(FADE_FRAMES), new Float32Array(FADE_FRAMES));
  const out: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += BLOCK) {
    const end = Math.min(frames, at + BLOCK);
    mixer.render(out[0].subarray(at, end), out[1].subarray(at, end));
  }
  return out;
}

const SILENT: Hearing = { level: 0, pan: 0, muted: true };
