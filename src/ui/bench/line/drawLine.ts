import type { ScaleLinear } from 'd3-scale';
import { beatsWithin, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Pin } from '@/core/rhythm/pins';
import { beatTime } from '@/core/rhythm/grid';
import { signedText } from '@/words/figures';
import type { Inks } from '../../trace/useInks';
import type { OffGrid } from '@/core/rhythm/offGrid';
import { drawOffGrid } from '../../trace/offGrid';
import { drawRoll, type RollNote } from '../../trace/roll';
import { drawWaveform, type Drawable } from '../../trace/waveform';

const RULER_HEIGHT = 24;
const TICKS_HEIGHT = 26;
/** Lines closer than this many pixels are thinned out. */
const CLOSEST_BEATS = 9;
const CLOSEST_BARS = 26;

export interface LinePicture {
  audio: Drawable;
  grid: Grid | null;
  onsets: readonly { time: number; strength: number }[];
  /** Hits off the grid. */
  late: readonly OffGrid[];
  loop: { start: number; end: number } | null;
  gain: number;
  /** The bar line under the pointer or being pulled; its number, or null. */
  heldBar: number | null;
  pins: readonly Pin[];
  /** Of a performance its notes, drawn over its sound. */
  notes: readonly RollNote[] | null;
  /** The selected stretch. */
  stretch: { from: number; to: number } | null;
}

/** Every how many bars a line is drawn and numbered so that lines stay `CLOSEST_BARS` apart. */
export function barStride(grid: Grid, pixelsPerSecond: number): number {
  const barPixels = (60 / grid.tempoBpm) * feltBeatsPerBar(grid.meter) * pixelsPerSecond || 1;
  let stride = 1;
  while (barPixels * stride < CLOSEST_BARS) stride *= 2;
  return stride;
}

/** Draws the line view: ruler, graticule, loop, waveform, grid and onset ticks. */
export function drawLine(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  height: number,
  inks: Inks,
  picture: LinePicture,
) {
  const { audio, grid, onsets, loop, gain, heldBar, pins, stretch, notes } = picture;
  const [from, to] = x.domain();
  const width = x.range()[1];
  const bottom = height - TICKS_HEIGHT;

  context.fillStyle = inks.sheet;
  context.fillRect(0, RULER_HEIGHT, width, bottom - RULER_HEIGHT);
  // Graticule: the paper's own rules, with time at their feet.
  context.strokeStyle = inks.rule;
  context.lineWidth = 1;
  context.beginPath();
  for (const share of [0.25, 0.5, 0.75]) {
    const y = Math.round(RULER_HEIGHT + (bottom - RULER_HEIGHT) * share) + 0.5;
    context.moveTo(0, y);
    context.lineTo(width, y);
  }
  context.stroke();
  if (loop) {
    context.fillStyle = inks['wash-ink'];
    context.fillRect(x(loop.start), RULER_HEIGHT, x(loop.end) - x(loop.start), bottom - RULER_HEIGHT);
  }
  if (stretch) {
    context.fillStyle = inks['wash-look'];
    context.fillRect(x(stretch.from), RULER_HEIGHT, x(stretch.to) - x(stretch.from), bottom - RULER_HEIGHT);
    context.fillStyle = inks.look;
    for (const time of [stretch.from, stretch.to])
      context.fillRect(Math.round(x(time)), RULER_HEIGHT, 1, bottom - RULER_HEIGHT);
  }
  const box = { x: 0, y: RULER_HEIGHT + 4, width, height: bottom - RULER_HEIGHT - 8 };
  drawWaveform(context, audio, { from, to }, box, notes ? inks.sunk : inks.trace, gain);
  if (notes) drawRoll(context, { from, to }, box, notes, inks);
  // Over the trace: in dense music a grid beneath it would be hidden.
  if (grid) drawBeats(context, x, grid, RULER_HEIGHT, bottom, inks);

  // Onsets: ticks that grow from the lower edge with their strength.
  context.fillStyle = inks.paper;
  context.fillRect(0, bottom, width, TICKS_HEIGHT);
  context.fillStyle = inks['ink-soft'];
  for (const { time, strength } of onsets) {
    if (time < from || time > to) continue;
    const tall = Math.min(1, strength / 10) * (TICKS_HEIGHT - 4) + 3;
    context.fillRect(Math.round(x(time)) - 0.5, height - tall, 1.5, tall);
  }
  drawOffGrid(context, x, bottom, inks, picture.late);
  context.fillStyle = inks['rule-strong'];
  context.fillRect(0, bottom, width, 1);

  context.fillStyle = inks.paper;
  context.fillRect(0, 0, width, RULER_HEIGHT);
  if (grid) drawBars(context, x, grid, bottom, inks, heldBar);
  else drawTimes(context, x, inks);
  if (loop) drawBounds(context, x, loop, bottom, inks);
  if (grid) drawPins(context, x, grid, pins, bottom, inks);
  context.fillStyle = inks['rule-strong'];
  context.fillRect(0, RULER_HEIGHT - 1, width, 1);
}

/** Brackets at both ends of what loops. */
function drawBounds(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  { start, end }: { start: number; end: number },
  bottom: number,
  inks: Inks,
) {
  context.fillStyle = inks.ink;
  for (const [time, way] of [
    [start, 1],
    [end, -1],
  ]) {
    const px = Math.round(x(time));
    context.fillRect(px - 1, RULER_HEIGHT, 2, bottom - RULER_HEIGHT);
    for (const y of [RULER_HEIGHT, bottom - 2]) context.fillRect(way > 0 ? px : px - 8, y, 8, 2);
  }
}

/** Pins: a nail in the ruler, with how far the line stands from it where that is seen. */
function drawPins(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  grid: Grid,
  pins: readonly Pin[],
  bottom: number,
  inks: Inks,
) {
  const [from, to] = x.domain();
  for (const { beat, time } of pins) {
    if (time < from || time > to) continue;
    const px = Math.round(x(time));
    context.fillStyle = inks.look;
    context.beginPath();
    context.moveTo(px - 5, RULER_HEIGHT + 1);
    context.lineTo(px + 5, RULER_HEIGHT + 1);
    context.lineTo(px, RULER_HEIGHT + 11);
    context.closePath();
    context.fill();
    context.fillRect(px, RULER_HEIGHT, 1, bottom - RULER_HEIGHT);
    const residual = 1000 * (time - beatTime(grid, beat));
    if (Math.abs(residual) >= 0.5) {
      context.font = '10px "Spline Sans Mono Variable", monospace';
      context.fillText(signedText(residual, 1, 'ms'), px + 6, RULER_HEIGHT + 12);
    }
  }
}

function drawBeats(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  grid: Grid,
  top: number,
  bottom: number,
  inks: Inks,
) {
  const [from, to] = x.domain();
  const pixelsPerBeat = Math.abs(x(60 / grid.tempoBpm) - x(0));
  if (pixelsPerBeat < CLOSEST_BEATS) return;
  context.fillStyle = inks['rule-strong'];
  for (const { time, place } of beatsWithin(grid, from, to))
    if (place !== 0) context.fillRect(Math.round(x(time)), top, 1, bottom - top);
}

function drawBars(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  grid: Grid,
  bottom: number,
  inks: Inks,
  heldBar: number | null,
) {
  const [from, to] = x.domain();
  const stride = barStride(grid, Math.abs(x(1) - x(0)));
  context.font = '11px "Spline Sans Mono Variable", monospace';
  context.textBaseline = 'middle';
  for (const { time, bar, place } of beatsWithin(grid, from - 0.001, to + 0.001)) {
    if (place !== 0 || (((bar - 1) % stride) + stride) % stride !== 0) continue;
    const px = Math.round(x(time));
    const isOne = bar === 1;
    const held = bar === heldBar;
    context.fillStyle = isOne ? inks.one : held ? inks.ink : inks['ink-soft'];
    context.fillRect(
      px - (isOne || held ? 1 : 0),
      isOne ? 0 : RULER_HEIGHT - 6,
      isOne || held ? 2.5 : 1,
      bottom - (isOne ? 0 : RULER_HEIGHT - 6),
    );
    if (bar < 1) {
      context.fillText(`−${1 - bar}`, px + 4, 11);
    } else if (isOne) {
      context.fillRect(px, 3, 16, 16);
      context.fillStyle = inks.paper;
      context.fillText('1', px + 5, 11.5);
    } else {
      context.fillText(String(bar), px + 4, 11);
    }
  }
}

function drawTimes(context: CanvasRenderingContext2D, x: ScaleLinear<number, number>, inks: Inks) {
  context.font = '11px "Spline Sans Mono Variable", monospace';
  context.textBaseline = 'middle';
  context.fillStyle = inks['ink-soft'];
  const format = x.tickFormat(10);
  for (const time of x.ticks(10)) {
    context.fillRect(Math.round(x(time)), RULER_HEIGHT - 7, 1, 7);
    context.fillText(`${format(time)} s`, x(time) + 4, 11);
  }
}
