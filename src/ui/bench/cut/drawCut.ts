import type { ScaleLinear } from 'd3-scale';
import type { Region } from '@/core/recipes/recipe';
import type { RenderPlan } from '@/core/recipes/renderPlan';
import { beatPosition, beatTime, beatsWithin, type Grid } from '@/core/rhythm/grid';
import type { OffGrid } from '@/core/rhythm/offGrid';
import { drawOffGrid } from '../../trace/offGrid';
import type { Inks } from '../../trace/useInks';

/** The foot where hits stand is so high, pixels. */
export const FOOT = 22;
const RULER = 20;
/** Bar lines nearer to each other are thinned, pixels. */
const CLOSEST = 34;

interface CutDrawing {
  bounds: { start: number; end: number } | null;
  grid: Grid | null;
  renderPlan: RenderPlan | null;
  region: Region | null;
  /** Hits off the grid, and the one in hand. */
  late: readonly OffGrid[];
  inHand: OffGrid | null;
  /** Draws the waveform of a stretch. */
  wave: (ink: string, from: number, to: number) => void;
}

/** Draws what is cut: the waveform, dark where it is taken; bars; what rings on; hits at the foot, with where they are moved to. */
export function drawCut(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  height: number,
  inks: Inks,
  { bounds, grid, renderPlan, region, late, inHand, wave }: CutDrawing,
) {
  const [from, to] = x.domain();
  const width = x.range()[1];
  const bottom = height - FOOT;
  context.fillStyle = inks.paper;
  context.fillRect(0, 0, width, height);
  const [start, end] = bounds ? [bounds.start, bounds.end] : [from, to];
  context.fillStyle = inks.sheet;
  context.fillRect(x(start), RULER, x(end) - x(start), bottom - RULER);

  if (grid) {
    const beats = beatsWithin(grid, Math.max(from, beatTime(grid, -400)), to);
    const lines = beats.filter(({ place }) => Math.abs(place) < 1e-6);
    const every =
      lines.length > 1 ? Math.max(1, Math.ceil(CLOSEST / (x(lines[1].time) - x(lines[0].time)))) : 1;
    context.font = '10px "Spline Sans Mono Variable", monospace';
    context.textBaseline = 'middle';
    context.textAlign = 'left';
    if (beats.length > 1 && x(beats[1].time) - x(beats[0].time) > 9) {
      context.fillStyle = inks.rule;
      for (const { time } of beats) context.fillRect(Math.round(x(time)), RULER, 1, bottom - RULER);
    }
    for (const { time, bar } of lines) {
      if ((bar - 1) % every !== 0) continue;
      context.fillStyle = inks['rule-strong'];
      context.fillRect(Math.round(x(time)), RULER - 5, 1, bottom - RULER + 5);
      context.fillStyle = bar === 1 ? inks.one : inks['ink-soft'];
      context.fillText(String(bar), x(time) + 3, 9);
    }
  }
  wave(inks['trace-soft'], from, to);
  wave(inks.trace, start, end);
  if (grid && region) {
    // What stands in front of it and rings on behind it is taken along.
    const lead =
      region.pickupBeats > 0 ? beatTime(grid, beatPosition(grid, start) - region.pickupBeats) : start;
    const tail = region.tail === 'cut' ? end : end + region.tailSeconds;
    context.fillStyle = inks['wash-look'];
    context.globalAlpha = 0.8;
    if (lead < start) context.fillRect(x(lead), RULER, x(start) - x(lead), bottom - RULER);
    if (tail > end) context.fillRect(x(end), RULER, x(tail) - x(end), bottom - RULER);
    if (region.crossfadeMs > 0) {
      context.fillStyle = inks['wash-ink'];
      const seconds = region.crossfadeMs / 1000;
      context.fillRect(x(end - seconds), RULER, x(end) - x(end - seconds), bottom - RULER);
    }
    context.globalAlpha = 1;
    if (lead < start) wave(inks.look, lead, start);
    if (tail > end) wave(inks.look, end, tail);
  }
  context.fillStyle = inks['rule-strong'];
  context.fillRect(0, bottom, width, 1);
  if (bounds) {
    context.fillStyle = inks.one;
    for (const time of [start, end]) context.fillRect(Math.round(x(time)) - 1, 0, 2, bottom);
  }
  drawOffGrid(context, x, bottom, inks, late, inHand);
  if (renderPlan) drawHits(context, x, bottom, inks, renderPlan);
}

/** Hits at the foot; where one is moved, a line from where it stands to where it will, as far as the file's own time shows it. */
function drawHits(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  bottom: number,
  inks: Inks,
  { moved, first, rate }: RenderPlan,
) {
  for (const { at, from, to } of moved) {
    const px = x(first / rate + at);
    const by = to - from;
    const isMoved = Math.abs(by) > 5e-5;
    context.fillStyle = isMoved ? inks.look : inks['ink-soft'];
    context.fillRect(Math.round(px), bottom + 3, 1, 8);
    if (!isMoved) continue;
    const there = px + (x(by) - x(0));
    context.fillRect(Math.min(px, there), bottom + 14, Math.max(1, Math.abs(there - px)), 1.5);
    context.fillRect(Math.round(there) - 1, bottom + 11, 2, 7);
  }
}
