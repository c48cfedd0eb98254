import { counted } from './plural';
import type { DriftFigures, GridFault } from '@/core/rhythm/drift';

/** What is wrong with a grid, in a sentence. */
export function gridWords(fault: GridFault, figures: DriftFigures): string {
  const { medianMs, spreadMs, slopeMsPerBar, barsUntil20Ms, wanderMs, strays } = figures;
  switch (fault) {
    case 'unknown':
      return 'Too few hits to judge the grid.';
    case 'tempo': {
      const bars = Math.max(1, Math.round(barsUntil20Ms ?? 0));
      return `The tempo is off: the hits ${slopeMsPerBar! > 0 ? 'fall behind' : 'run ahead of'} the click, 20 ms after ${counted(bars, 'bar')}.`;
    }
    case 'moving':
      return `The tempo changes: hits vary by ${wanderMs!.toFixed(0)} ms around one tempo.`;
    case 'place':
      return `The one is off: hits are ${Math.abs(medianMs!).toFixed(0)} ms ${medianMs! > 0 ? 'late' : 'early'} throughout.`;
    case 'loose':
      return `Loose timing: ${spreadMs!.toFixed(0)} ms around the grid.`;
    case 'fits': {
      const but = strays === 0 ? '' : `; ${strays === 1 ? 'one hit is' : `${strays} hits are`} off`;
      return `The grid matches from start to end${but}.`;
    }
  }
}
