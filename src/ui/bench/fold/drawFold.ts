import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { barOfRow } from '@/core/rhythm/fold';
import type { Deviation } from '@/core/rhythm/drift';
import { median } from '@/core/math/median';
import type { Inks } from '../../trace/useInks';
import { foldImage, type FoldPicture } from './foldImage';
import { DRIFT_WIDTH, GUTTER, RULER, rowOfY, xOfBeat, yOfRow, type FoldScale } from './foldScale';

const MONO = '"Spline Sans Mono Variable", monospace';
/** Reach of the drift column to both sides, ms. */
const DRIFT_REACH_MS = 40;
const CLOSEST_LABELS = 13;
/** So many finds are marked. */
const MARKED_FINDS = 4;

export interface FoldDetails extends FoldPicture {
  deviations: readonly Deviation[];
  /** Where off-beats stand within the beat, or null for straight. */
  swing: number | null;
  /** The grid on which the hits' columns stand upright, when that is another one. */
  upright: Grid | null;
  /** Beats that are chosen to be cut. */
  chosen: { from: number; to: number } | null;
  /** Stretches that loop well, best first. */
  finds: readonly { bar: number; bars: number }[];
}

/** Draws the fold: rows, rules at the beats, bar numbers, and each row's deviation beside it. */
export function drawFold(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  picture: FoldDetails,
) {
  const { width, height, rows } = scale;
  const total = RULER + height;
  context.fillStyle = inks.paper;
  context.fillRect(0, 0, GUTTER + width + DRIFT_WIDTH, total);

  // In the screen's own pixels, whatever the context's scale: putting them there is the quickest way.
  const density = context.getTransform().a;
  const image = imageFor(context, Math.round(width * density), Math.round(height * density));
  foldImage(image, scale, picture, inks, density);
  context.putImageData(image, Math.round(GUTTER * density), Math.round(RULER * density));

  const bottom = Math.min(total, yOfRow(scale, rows.last + 1));
  // What stands beyond a row's ends stands in its neighbours again: it is printed weaker.
  context.fillStyle = inks.paper;
  context.globalAlpha = 0.6;
  context.fillRect(GUTTER, RULER, xOfBeat(scale, 0), bottom - RULER);
  const end = xOfBeat(scale, rows.rowBeats);
  context.fillRect(GUTTER + end, RULER, width - end, bottom - RULER);
  context.globalAlpha = 1;
  context.fillStyle = inks.paper;
  context.fillRect(0, bottom, GUTTER + width + DRIFT_WIDTH, total - bottom);

  drawRules(context, scale, inks, picture, bottom);
  if (picture.upright) drawLean(context, scale, inks, picture.grid, picture.upright);
  drawFinds(context, scale, inks, picture, bottom);
  if (picture.chosen) drawChosen(context, scale, inks, picture.chosen, bottom);
  drawLabels(context, scale, inks, picture, bottom);
  drawDrift(context, scale, inks, picture, bottom);
  context.fillStyle = inks['rule-strong'];
  context.fillRect(0, RULER - 1, GUTTER + width + DRIFT_WIDTH, 1);
  context.fillRect(GUTTER - 1, 0, 1, bottom);
  context.fillRect(GUTTER + width, 0, 1, bottom);
}

/** The best finds are marked in the gutter, one beside the other: a bracket from the first to the last of their rows. */
function drawFinds(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  { finds, grid }: FoldDetails,
  bottom: number,
) {
  const size = feltBeatsPerBar(grid.meter);
  const { rowBeats } = scale.rows;
  context.fillStyle = inks.good;
  finds.slice(0, MARKED_FINDS).forEach(({ bar, bars }, i) => {
    const top = Math.max(RULER, yOfRow(scale, ((bar - 1) * size) / rowBeats) + 1);
    const foot = Math.min(bottom, yOfRow(scale, ((bar - 1 + bars) * size) / rowBeats) - 1);
    const x = 2 + 4 * i;
    if (foot <= top) return;
    context.fillRect(x, top, 1.5, foot - top);
    context.fillRect(x, top, 4, 1.5);
    context.fillRect(x, foot - 1.5, 4, 1.5);
  });
}

/** A strip along the left edge of the rows that are chosen. */
function drawChosen(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  { from, to }: { from: number; to: number },
  bottom: number,
) {
  const { rowBeats } = scale.rows;
  const top = Math.max(RULER, yOfRow(scale, from / rowBeats));
  const foot = Math.min(bottom, yOfRow(scale, to / rowBeats));
  if (foot <= top) return;
  context.fillStyle = inks['wash-look'];
  context.fillRect(0, top, GUTTER - 1, foot - top);
  context.fillStyle = inks.look;
  context.fillRect(GUTTER - 6, top, 4, foot - top);
}

const images = new WeakMap<CanvasRenderingContext2D, ImageData>();

/** The picture in memory of a canvas, kept from one drawing to the next. */
function imageFor(context: CanvasRenderingContext2D, width: number, height: number): ImageData {
  const before = images.get(context);
  if (before?.width === width && before.height === height) return before;
  const image = context.createImageData(width, height);
  images.set(context, image);
  return image;
}

function drawRules(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  { grid, swing }: FoldDetails,
  bottom: number,
) {
  const size = feltBeatsPerBar(grid.meter);
  const { rowBeats } = scale.rows;
  const pixelsPerBeat = xOfBeat(scale, 1) - xOfBeat(scale, 0);
  context.font = `11px ${MONO}`;
  context.textBaseline = 'middle';
  const ends = rowBeats + 1e-6;
  for (let beat = 0; beat <= ends; beat += Math.min(1, rowBeats)) {
    const x = GUTTER + Math.round(xOfBeat(scale, beat));
    const isBar = beat % size === 0;
    const isOne = beat === 0;
    context.globalAlpha = isOne ? 1 : isBar ? 0.75 : 0.5;
    context.fillStyle = isOne ? inks.one : inks.ink;
    if (isOne || isBar || pixelsPerBeat > 14)
      context.fillRect(
        x - (isOne ? 1 : 0),
        isOne ? 4 : RULER - 6,
        isOne ? 2 : 1,
        bottom - RULER + 6 + (isOne ? RULER - 10 : 0),
      );
    context.globalAlpha = 1;
    if (beat < rowBeats && (pixelsPerBeat > 22 || isBar)) {
      context.fillStyle = isOne ? inks.one : inks['ink-soft'];
      context.fillText(isOne ? 'the one' : String((beat % size) + 1), x + 4, 10);
    }
    if (swing !== null && Math.abs(swing - 0.5) > 0.02 && beat < rowBeats && pixelsPerBeat > 40) {
      const off = GUTTER + Math.round(xOfBeat(scale, beat + swing));
      context.strokeStyle = inks['ink-soft'];
      context.setLineDash([2, 4]);
      context.beginPath();
      context.moveTo(off + 0.5, RULER);
      context.lineTo(off + 0.5, bottom);
      context.stroke();
      context.setLineDash([]);
    }
  }
}

/** Where the one of each row would stand if the columns were upright: the slant that is to be pulled straight. */
function drawLean(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  grid: Grid,
  upright: Grid,
) {
  const { rows, rowHeight, width, height } = scale;
  context.save();
  context.beginPath();
  context.rect(GUTTER, RULER, width, height);
  context.clip();
  context.strokeStyle = inks.look;
  context.lineWidth = 2;
  context.setLineDash([7, 4]);
  context.beginPath();
  const first = Math.max(0, rowOfY(scale, RULER) ?? 0);
  let before = NaN;
  for (let row = first; row <= rows.last; row++) {
    const y = yOfRow(scale, row) + rowHeight / 2;
    if (y > RULER + height) break;
    const off = beatPosition(grid, beatTime(upright, row * rows.rowBeats)) - row * rows.rowBeats;
    // A slant that leaves the row comes in again at its other end.
    const beat = off - Math.round(off / rows.rowBeats) * rows.rowBeats;
    const x = GUTTER + xOfBeat(scale, beat);
    if (Number.isNaN(before) || Math.abs(beat - before) > rows.rowBeats / 2) context.moveTo(x, y);
    else context.lineTo(x, y);
    before = beat;
  }
  context.stroke();
  context.restore();
}

function drawLabels(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  { grid }: FoldDetails,
  bottom: number,
) {
  const { rows, rowHeight } = scale;
  context.font = `11px ${MONO}`;
  context.textAlign = 'right';
  context.fillStyle = inks['ink-soft'];
  context.fillText(rows.rowBeats < feltBeatsPerBar(grid.meter) ? 'beat' : 'bar', GUTTER - 6, 10);
  let stride = 1;
  while (stride * rowHeight < CLOSEST_LABELS) stride *= 2;
  const first = Math.floor((rowOfY(scale, RULER) ?? rows.first) / stride) * stride;
  for (let row = first; row <= rows.last; row += stride) {
    const y = yOfRow(scale, row) + Math.min(rowHeight, CLOSEST_LABELS + 3) / 2;
    if (y < RULER + 4) continue;
    if (y > bottom - 3) break;
    const label =
      rows.rowBeats < feltBeatsPerBar(grid.meter) ? row * rows.rowBeats + 1 : barOfRow(grid, rows, row);
    context.fillStyle = row === 0 ? inks.one : row < 0 ? inks['ink-soft'] : inks.ink;
    context.fillText(row < 0 ? 'pickup' : String(label), GUTTER - 6, y);
    if (row < 0 && stride > 1) break;
  }
  context.textAlign = 'left';
}

function drawDrift(
  context: CanvasRenderingContext2D,
  scale: FoldScale,
  inks: Inks,
  { deviations }: FoldDetails,
  bottom: number,
) {
  const { rows, rowHeight, width } = scale;
  const left = GUTTER + width + 1;
  const x = (ms: number) =>
    left +
    DRIFT_WIDTH * (0.5 + (0.46 * Math.max(-DRIFT_REACH_MS, Math.min(DRIFT_REACH_MS, ms))) / DRIFT_REACH_MS);
  context.font = `10px ${MONO}`;
  context.textAlign = 'center';
  for (const ms of [-20, 0, 20]) {
    context.fillStyle = inks['ink-soft'];
    context.fillText(ms === 0 ? '0 ms' : ms < 0 ? `−${-ms}` : `+${ms}`, x(ms), 10);
    context.fillStyle = ms === 0 ? inks['rule-strong'] : inks.rule;
    context.fillRect(Math.round(x(ms)), RULER, 1, bottom - RULER);
  }
  context.textAlign = 'left';
  const byRow = new Map<number, number[]>();
  for (const { beat, deviationMs } of deviations) {
    const row = Math.floor(beat / rows.rowBeats + 1e-9);
    const list = byRow.get(row);
    if (list) list.push(deviationMs);
    else byRow.set(row, [deviationMs]);
  }
  const size = Math.max(2, Math.min(7, rowHeight * 0.6));
  const radius = Math.max(1.2, size / 2);
  // One path for all rows that fit and one for those that do not: hundreds by themselves take too long.
  const dots = { fit: new Path2D(), off: new Path2D() };
  context.fillStyle = inks['trace-soft'];
  for (const [row, values] of byRow) {
    const y = yOfRow(scale, row) + rowHeight / 2;
    if (y < RULER || y > bottom) continue;
    if (rowHeight >= 6)
      for (const value of values) context.fillRect(x(value) - 0.75, y - size / 2, 1.5, size);
    const middle = median(values);
    const path = Math.abs(middle) > 20 ? dots.off : dots.fit;
    path.moveTo(x(middle) + radius, y);
    path.arc(x(middle), y, radius, 0, 2 * Math.PI);
  }
  context.fillStyle = inks.trace;
  context.fill(dots.fit);
  context.fillStyle = inks.look;
  context.fill(dots.off);
}
