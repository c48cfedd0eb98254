import { beatPosition, beatTime, feltBeatsPerBar, moveOne, type Grid } from './grid';
import { bendToPins } from './pins';

/** The file folded: rows of `rowBeats` felt beats; row 0 begins at the one, rows before it are pickup. */
export interface FoldRows {
  rowBeats: number;
  first: number;
  last: number;
}

/** More rows than anybody can look at; a longer file is folded coarser. */
const MOST_ROWS = 4000;

/** Rows that a file of `durationSeconds` has when it is folded into rows of `rowBeats` felt beats. */
export function foldRows(grid: Grid, rowBeats: number, durationSeconds: number): FoldRows {
  let beats = rowBeats;
  const rows = () => ({
    rowBeats: beats,
    first: Math.min(0, Math.floor(beatPosition(grid, 0) / beats + 1e-6)),
    last: Math.max(0, Math.ceil(beatPosition(grid, durationSeconds) / beats - 1e-6) - 1),
  });
  let found = rows();
  while (found.last - found.first >= MOST_ROWS) {
    beats *= 2;
    found = rows();
  }
  return found;
}

/** The bar that a row begins with; the pickup is bar 0 and below. */
export function barOfRow(grid: Grid, { rowBeats }: FoldRows, row: number): number {
  return Math.floor((row * rowBeats) / feltBeatsPerBar(grid.meter) + 1e-9) + 1;
}

/**
 * The grid after the fold was taken hold of at beat position `beat` and moved by `byBeats` to the right: what
 * is heard there follows the hand. In the one's row and in the pickup the one moves; in a lower row of a
 * steady grid the tempo changes about the one (the further down, the finer), a moving grid is bent there.
 * Throws RangeError out of reach.
 */
export function dragFold(grid: Grid, { rowBeats }: FoldRows, beat: number, byBeats: number): Grid {
  const period = 60 / grid.tempoBpm;
  if (beat < rowBeats) return moveOne(grid, grid.one - byBeats * period);
  const time = beatTime(grid, beat);
  const target = beat + byBeats;
  if (grid.movingBeats) {
    const whole = Math.round(target);
    return bendToPins(grid, [
      { beat: 0, time: grid.one },
      { beat: whole, time: time + (whole - target) * period },
    ]);
  }
  const tempoBpm = (60 * target) / (time - grid.one);
  if (!(tempoBpm >= 10 && tempoBpm <= 1000))
    throw new RangeError(`a tempo of ${tempoBpm} BPM is out of reach`);
  return { ...grid, tempoBpm };
}
