import type { MixExport } from '@/contract/mix';
import { stemAndEnding } from '@/core/formats/endings';

/** An outcome in words. */
export function exportWords(one: MixExport, name: string): string {
  if (one.what === 'mix') return `mix of the blend “${name}”`;
  if (one.what === 'lane') return `the lane “${one.name}” of the blend “${name}”, from bar 1`;
  return `click of the blend “${name}”${one.countInBars > 0 ? `, ${one.countInBars} bars of count-in` : ''}`;
}

/** What the file of an outcome is called. */
export const exportName = (one: MixExport, name: string): string =>
  one.what === 'mix' ? name : `${name}, ${one.what === 'click' ? 'click' : stemAndEnding(one.name)[0]}`;
