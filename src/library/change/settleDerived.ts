import type { SettledState } from '@/contract/settled';
import type { Reading } from '@/core/readings/reading';
import type { ChangeSet } from './changeSet';

/** What was made by a recipe. */
export interface Derived {
  sampleId: string;
  /** What measuring says of it: kept beside, for comparing. */
  measured: readonly Reading[];
  /** What the recipe says; this is settled. */
  planned: readonly Reading[];
  /** The rest of what is settled of it. */
  state: Partial<SettledState>;
  words: string;
  isSaved: boolean;
}

/** Settles what was made by a recipe: tempo, one, key and tuning are the plan's, whatever measuring thinks of them. */
export function settleDerived(
  changeSet: ChangeSet,
  { sampleId, measured, planned, state, words, isSaved }: Derived,
): void {
  changeSet.read(sampleId, measured);
  const chosen = Object.fromEntries(
    changeSet.read(sampleId, planned).map(({ property, readingId }) => [property, readingId]),
  );
  changeSet.revise(sampleId, { ...state, chosen }, words);
  if (isSaved) changeSet.flag(sampleId, { savedAt: changeSet.now });
}
