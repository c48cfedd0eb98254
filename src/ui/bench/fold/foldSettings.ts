import type { Band } from '@/core/traces/bandStrength';
import type { FoldDrawing } from './foldImage';

/** How the fold is drawn. */
export interface FoldSettings {
  rowBeats: number;
  drawing: FoldDrawing;
  bands: readonly Band[];
  /** Height of a row in pixels; null: all rows fit. */
  tall: number | null;
}
