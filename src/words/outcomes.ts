import type { Outcome } from '@/contract/mix';
import { stemAndEnding } from '@/core/formats/endings';

/** An outcome in words. */
export function outcomeWords(one: Outcome, name: string): string {
  if (one.what === 'mix') return `mix of the blend “${name}”`;
  if (one.what === 'lane') return `the lane “${one.name}” of the blend “${name}”, from its first bar`;
  return `click of the blend “${name}”${one.countInBars > 0 ? `, ${one.countInBars} bars counted in` : ''}`;
}

/** What the file of an outcome is called. */
export const outcomeName = (one: Outcome, name: string): string =>
  one.what === 'mix' ? name : `${name}, ${one.what === 'click' ? 'click' : stemAndEnding(one.name)[0]}`;
