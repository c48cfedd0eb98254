import type { SampleEntry } from '@/contract/entry';
import type { Target } from '@/core/timeStretch/proposal';
import { recipeAtTarget } from '@/library/recipes/aims';
import type { Recipe } from '@/core/recipes/recipe';
import type { SampleKind } from '@/core/measurement/schema';
import type { Edge } from '@/core/recipes/edges';

/** A recipe that is being thought of: all but what it is made from, and where exactly it is cut. */
export type CutDraft = Omit<Recipe, 'parent' | 'name' | 'kind'> & {
  kind: SampleKind;
  edge: Edge | 'as it was';
  /** It may begin or end in silence or in a fade-out. */
  insists: boolean;
  template: string;
};

export const CUT_NAME = '{name}[ from bar {bar}][ {bars}-bar][ {bpm} bpm][ {key}][ {how}]';

/** What was thought of each sample, as long as the page is open. */
const kept = new Map<string, CutDraft>();
/** Samples that are opened to be cut. */
const asked = new Set<string>();

export const keptDraft = (sampleId: string): CutDraft | null => kept.get(sampleId) ?? null;

export function rememberDraft(sampleId: string, draft: CutDraft | null) {
  if (draft) kept.set(sampleId, draft);
  else kept.delete(sampleId);
}

/** Lays a draft ready: the sample, opened on the Bench, shows it. */
export function keepDraft(sampleId: string, draft: CutDraft) {
  rememberDraft(sampleId, draft);
  openAsCut(sampleId);
}

/** The sample, opened on the Bench, shows its cut. */
export const openAsCut = (sampleId: string): void => void asked.add(sampleId);

/** Whether a sample is opened to be cut, until it is shown so. */
export const isAskedFor = (sampleId: string): boolean => asked.has(sampleId);
export const shownAsAsked = (sampleId: string): void => void asked.delete(sampleId);

/** How a sample becomes what is played at the target; null where the target leaves it as it is. */
export function draftAtTarget(
  entry: SampleEntry,
  target: Target,
  { write, template }: Pick<CutDraft, 'write' | 'template'>,
): Partial<CutDraft> | null {
  const { format, sampleRate } = write;
  const made = recipeAtTarget(entry, target, { format, sampleRate, template });
  return made && { region: made.region, time: made.time, pitch: made.pitch, kind: made.kind };
}

/** What was made as a draft again, to be made with something else. */
export function draftOfRecipe({ parent: _, name: __, ...steps }: Recipe): CutDraft {
  return { ...steps, edge: steps.region ? 'as it was' : 'grid', insists: true, template: CUT_NAME };
}
