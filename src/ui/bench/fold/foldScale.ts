import type { FoldRows } from '@/core/rhythm/fold';

/** Share of a row that is shown again beyond its ends, so that early and late hits stand beside the rule. */
const MARGIN = 0.035;
export const GUTTER = 52;
export const RULER = 22;
export const DRIFT_WIDTH = 142;
const TALLEST_ROW = 110;
const SHORTEST_ROW = 1;
/** Rows of this height or more are parted by a hair of paper. */
export const GAP_FROM = 5;

/** Where the rows of a fold stand in its panel; CSS pixels from the panel's upper left corner. */
export interface FoldScale {
  rows: FoldRows;
  rowHeight: number;
  /** Pixels of rows that are scrolled away above. */
  scroll: number;
  /** Width of the picture between gutter and drift column. */
  width: number;
  height: number;
}

/** Lays out a fold; `tall` is the wanted height of a row, or null for what fits. */
export function foldScale(
  rows: FoldRows,
  panel: { width: number; height: number },
  tall: number | null,
  scroll: number,
): FoldScale {
  const width = Math.max(50, panel.width - GUTTER - DRIFT_WIDTH);
  const height = Math.max(20, panel.height - RULER);
  const count = rows.last - rows.first + 1;
  const fits = Math.max(SHORTEST_ROW, Math.min(TALLEST_ROW, height / count));
  const rowHeight = tall === null ? fits : Math.max(fits, Math.min(TALLEST_ROW, tall));
  return {
    rows,
    rowHeight,
    width,
    height,
    scroll: Math.max(0, Math.min(count * rowHeight - height, scroll)),
  };
}

/** x of a place in its row, in beats from the row's begin. */
export function xOfBeat({ rows, width }: FoldScale, beat: number): number {
  return ((beat / rows.rowBeats + MARGIN) / (1 + 2 * MARGIN)) * width;
}

/** The inverse of `xOfBeat`. */
export function beatOfX({ rows, width }: FoldScale, x: number): number {
  return ((x / width) * (1 + 2 * MARGIN) - MARGIN) * rows.rowBeats;
}

export function yOfRow({ rows, rowHeight, scroll }: FoldScale, row: number): number {
  return RULER + (row - rows.first) * rowHeight - scroll;
}

/** The row under a y, or null beside the picture. */
export function rowOfY({ rows, rowHeight, scroll }: FoldScale, y: number): number | null {
  const row = rows.first + Math.floor((y - RULER + scroll) / rowHeight);
  return y >= RULER && row >= rows.first && row <= rows.last ? row : null;
}
