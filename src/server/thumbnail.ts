import { peakColumns, type PeakPyramid } from '@/core/signal/peaks';

const THUMBNAIL_COLUMNS = 160;

/** Waveform extremes as signed bytes, scaled so that the loudest place fills the height. */
export function thumbnailOf(peaks: PeakPyramid): Int8Array {
  const columns = peakColumns(peaks, 0, Math.max(1e-3, peaks.frames / peaks.sampleRate), THUMBNAIL_COLUMNS);
  let loudest = 1e-6;
  for (const value of columns) if (Math.abs(value) > loudest) loudest = Math.abs(value);
  return Int8Array.from(columns, (value) => Math.round(((Number.isNaN(value) ? 0 : value) / loudest) * 127));
}
