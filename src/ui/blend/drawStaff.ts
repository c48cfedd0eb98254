import type { LaneScore, Part } from '@/library/blend/parts';
import type { Score } from '@/library/blend/score';
import { toResult, toSource } from '@/core/timeStretch/timeMap';
import { beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Traces } from '@/core/traces/traces';
import { drawWaveform, fittingGain } from '../trace/waveform';
import type { Inks } from '../trace/useInks';

/** Bars that are in sight; 0 is bar 1. */
export interface BarsView {
  from: number;
  bars: number;
}

/** Where a moment of the blend stands in a picture so wide. */
function xOf(grid: Grid, view: BarsView, width: number, time: number): number {
  const bar = beatPosition(grid, time) / feltBeatsPerBar(grid.meter);
  return ((bar - view.from) / view.bars) * width;
}

/** Every so many bars a line is a strong one. */
const FOUR = 4;

/** Bar lines of the ruler behind a staff. */
function drawBars(
  context: CanvasRenderingContext2D,
  view: BarsView,
  width: number,
  height: number,
  inks: Inks,
) {
  const every = view.bars > 96 ? 16 : view.bars > 40 ? FOUR : 1;
  for (let bar = Math.ceil(view.from / every) * every; bar <= view.from + view.bars; bar += every) {
    context.fillStyle = bar % (FOUR * every) === 0 ? inks['rule-strong'] : inks.rule;
    context.fillRect(Math.round(((bar - view.from) / view.bars) * width), 0, 1, height);
  }
}

interface Staff {
  one: LaneScore;
  score: Score;
  traces: Traces | undefined;
  view: BarsView;
  inks: Inks;
  pen: string;
}

/** A lane on its staff: its trace as it is heard in the blend, each time that it comes. */
export function drawStaff(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  { one, score, traces, view, inks, pen }: Staff,
) {
  const { grid } = score;
  drawBars(context, view, width, height, inks);
  const middle = Math.round(height / 2);
  const at = (time: number) => xOf(grid, view, width, time);
  const isQuiet = one.lane.muted;
  context.globalAlpha = isQuiet ? 0.3 : 0.82;
  context.fillStyle = pen;
  context.fillRect(0, middle, width, 1);
  const gain = traces ? fittingGain(traces.peaks) : 1;
  for (const part of one.parts)
    for (const { start, end, from } of times(part)) {
      const [left, right] = [at(start), at(end)];
      if (right < 0 || left > width) continue;
      if (traces)
        for (const piece of pieces(part, end - start)) {
          const [x, to] = [at(start + piece.from), at(start + piece.to)];
          if (to < 0 || x > width || to - x < 0.2) continue;
          const heard = {
            from: part.plan.from + toSource(part.plan.map, piece.from),
            to: part.plan.from + toSource(part.plan.map, piece.to),
          };
          drawClipped(context, traces, heard, { x, width: to - x, height }, pen, gain * loudness(one), width);
        }
      context.fillStyle = pen;
      context.fillRect(Math.round(left), 0, 1, height);
      context.font = '10px "Spline Sans Mono Variable", monospace';
      if (from > 0 && height > 60 && right - left > 40) context.fillText('repeat', left + 4, 9);
    }
  context.globalAlpha = 1;
}

const loudness = ({ lane }: LaneScore) => Math.min(1.2, 10 ** (lane.levelDb / 40));

/** Each time that a part is heard: `from`: how often it was before. */
function* times({
  start,
  until,
  isLooping,
  turn,
}: Part): Generator<{ start: number; end: number; from: number }> {
  if (!isLooping) {
    yield { start, end: until, from: 0 };
    return;
  }
  for (let round = 0; start + round * turn < until - 1e-6; round++) {
    const begin = start + round * turn;
    yield { start: begin, end: Math.min(until, begin + turn), from: round };
  }
}

/** Stretches of a part's result between the knots of its map, as far as it is heard. */
function pieces({ plan }: Part, seconds: number): { from: number; to: number }[] {
  const knots = plan.map.source
    .map((time) => toResult(plan.map, time))
    .filter((time) => time > 0 && time < seconds);
  const ends = [...knots, Math.min(seconds, plan.seconds)];
  return ends.map((to, i) => ({ from: i === 0 ? 0 : ends[i - 1], to }));
}

/** Only what is in sight is read off. */
function drawClipped(
  context: CanvasRenderingContext2D,
  { peaks, durationSeconds }: Traces,
  heard: { from: number; to: number },
  box: { x: number; width: number; height: number },
  pen: string,
  gain: number,
  width: number,
) {
  // Whole pixels: halves of two beside each other would look like another ink.
  const [left, right] = [Math.max(0, Math.round(box.x)), Math.min(width, Math.round(box.x + box.width))];
  const share = (x: number) => heard.from + ((x - box.x) / box.width) * (heard.to - heard.from);
  const from = Math.max(0, share(left));
  const to = Math.min(durationSeconds, share(right));
  if (to <= from || right - left < 0.2) return;
  const audio = { peaks, channels: [], sampleRate: peaks.sampleRate };
  drawWaveform(
    context,
    audio,
    { from, to },
    { x: left, y: 1, width: Math.max(1, right - left), height: box.height - 2 },
    pen,
    gain,
  );
}
