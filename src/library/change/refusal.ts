import type { Property, Source } from '@/core/readings/reading';
import type { DriftFigures, GridFault } from '@/core/rhythm/drift';

/** Why something is not done to a sample: a code with its figures. Words are `words/refusals`. */
export type Refusal =
  | { code: 'no such sample' | 'no such set' | 'no such state' }
  /** By whom, and what the last step was. */
  | { code: 'changed elsewhere'; by: string | null; words: string | null }
  | { code: 'step of another'; by: string; words: string }
  | { code: 'set joined since'; set: string }
  | { code: 'merged'; name: string }
  | { code: 'not measured yet'; name: string | null; what: 'settle' | 'save' }
  | { code: 'no name to sign with' | 'nothing to prove' | 'no grid' | 'no tempo' | 'cannot be read' }
  | { code: 'grid does not fit'; fault: Exclude<GridFault, 'fits'>; figures: DriftFigures }
  | { code: 'pins out of order' | 'loop without a grid' | 'no stem of the set' }
  | { code: 'reading of another'; property: Property }
  | { code: 'one out of reach'; one: number; reachSeconds: number }
  | { code: 'too many beats' | 'too many tags'; most: number }
  | { code: 'beats do not rise'; at: number }
  | { code: 'impossible tempo'; bpm: number }
  | { code: 'no such source'; source: Source }
  /** What is wrong with a template, as `nameFromTemplate` says it. */
  | { code: 'name'; fault: string };

/** `gone`: it is not there; `stale`: it has moved on; `foreign`: somebody else's step; `unfit`: it cannot be. */
export function kindOfRefusal({ code }: Refusal): 'gone' | 'stale' | 'foreign' | 'unfit' {
  if (code === 'no such sample' || code === 'no such set' || code === 'no such state') return 'gone';
  if (code === 'changed elsewhere') return 'stale';
  return code === 'step of another' ? 'foreign' : 'unfit';
}

/** A change cannot be made; its message is for developers. */
export class RefusedChange extends Error {
  override name = 'RefusedChange';
  constructor(readonly refusal: Refusal) {
    super(JSON.stringify(refusal));
  }
}
