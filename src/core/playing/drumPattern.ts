import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';

export const STROKES = ['big', 'side', 'light'] as const;
export type Stroke = (typeof STROKES)[number];

/** Samples of the drums, each loudest in its first sample. */
export type DrumSamples = Readonly<Record<Stroke, Float32Array>>;

export interface PatternPace {
  /** Beats of the pattern for each felt beat: half time, as it is, double time. */
  pace: 0.5 | 1 | 2;
  /** Where in a beat its second half stands: 0.5 straight, ⅔ swung. */
  swing: number;
}

/**
 * Tells `each` of the strokes of a plain drum pattern with from ≤ place < to, in frames at `rate`, rising: the big drum on the first
 * beat of a bar, the side drum against it, something light on every half beat (every third in bars of three eighths). A piece that
 * moves or is busy is judged more easily against it than against a click.
 */
export function eachStroke(
  grid: Grid,
  from: number,
  to: number,
  rate: number,
  { pace, swing }: PatternPace,
  each: (frame: number, stroke: Stroke) => void,
) {
  const { meter } = grid;
  const size = feltBeatsPerBar(meter);
  const isCompound = size < meter.beatsPerBar;
  const parts = isCompound ? 3 : 2;
  // Where bars are no whole number of its beats, the pattern goes over two of them.
  const round = Number.isInteger(size * pace) ? size * pace : 2 * size * pace;
  const partAt = (k: number) => {
    const [beat, part] = [Math.floor(k / parts), k - Math.floor(k / parts) * parts];
    return (beat + (isCompound ? part / 3 : part * swing)) / pace;
  };
  // Two too many before: only the frames themselves are compared, so that stretches that meet share none.
  for (let k = Math.ceil(beatPosition(grid, from / rate) * pace * parts) - 2; ; k++) {
    const frame = beatTime(grid, partAt(k)) * rate;
    if (frame >= to) return;
    if (frame < from) continue;
    each(frame, 'light');
    if (k % parts === 0) each(frame, drumOn(Math.floor(k / parts), round));
  }
}

/** The drum on a beat: in even bars big and side in turn, in odd ones big on the first and side on the others. */
function drumOn(beat: number, round: number): Stroke {
  const place = beat - Math.floor(beat / round) * round;
  if (place === 0) return 'big';
  return round % 2 === 0 && place % 2 === 0 ? 'big' : 'side';
}

/** The drums, mono, at `rate`. */
export function drumSamples(rate: number): DrumSamples {
  let seed = 7;
  const noise = () => {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) | 0;
    return seed / 2 ** 31;
  };
  const made = (seconds: number, value: (t: number) => number) => {
    const samples = Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => value(i / rate));
    samples[0] = 1;
    return samples;
  };
  return {
    big: made(0.3, (t) => {
      const turns = 52 * t + 95 * 0.02 * (1 - Math.exp(-t / 0.02));
      return Math.cos(2 * Math.PI * turns) * Math.exp(-t / 0.07);
    }),
    side: made(0.18, (t) => (0.55 * noise() + 0.45 * Math.cos(2 * Math.PI * 190 * t)) * Math.exp(-t / 0.035)),
    light: made(0.06, (t) => noise() * Math.exp(-t / 0.009)),
  };
}

/** A swing that was measured is one from here on; nearer to the middle hits are only not quite even. */
const LEAST_SWING = 0.54;

/** The swing of the drums beside a sample: as it was measured, or straight. */
export function swingOf(measurement: { swing: number | null } | null): number {
  const swing = measurement?.swing ?? 0.5;
  return swing >= LEAST_SWING ? swing : 0.5;
}
