import type { Reading } from '@/core/readings/reading';
import type { Draft } from './draft';

/** Merges one sample into another: its tags, note and readings go to the one that stays, and it goes to the bin. */
export function mergeInto(draft: Draft, stays: string, goes: string): void {
  const gone = draft.sample(goes);
  const words = `from “${gone.arrivedAs}”`;
  const known = draft.sample(stays).readings;
  const copied = gone.readings
    .filter(({ superseded, source }) => !superseded && source !== 'detector' && source !== 'stem set')
    .filter(
      (one) =>
        !known.some(
          (mine) =>
            mine.property === one.property &&
            mine.source === one.source &&
            JSON.stringify(mine.value) === JSON.stringify(one.value),
        ),
    )
    .map((one): Reading => ({
      ...one,
      detail: [one.detail, words].filter(Boolean).join(', ').slice(0, 300),
    }));
  draft.read(stays, copied);
  if (draft.sample(stays).current && gone.current) {
    const state = draft.state(stays);
    const other = draft.state(goes);
    const merged = {
      tags: [
        ...state.tags,
        ...other.tags.filter(
          (tag) => !state.tags.some(({ facet, value }) => facet === tag.facet && value === tag.value),
        ),
      ].slice(0, 60),
      note: [state.note, other.note].filter(Boolean).join('\n').slice(0, 4000),
      rating: state.rating ?? other.rating,
      origin: state.origin || other.origin,
      licence: state.licence || other.licence,
    };
    const before = Object.fromEntries(
      Object.keys(merged).map((name) => [name, state[name as keyof typeof merged]]),
    );
    if (JSON.stringify(merged) !== JSON.stringify(before))
      draft.revise(stays, merged, `merged with “${gone.arrivedAs}”`);
  }
  draft.flag(goes, { mergedInto: stays, binnedAt: draft.now });
}

/** Takes a merging back: what went is there again; what was copied stays in the history. Returns who came back. */
export function reopen(draft: Draft, pair: readonly [string, string]): string[] {
  const back = pair.filter((id) => draft.sample(id).mergedInto !== null);
  for (const id of back) draft.flag(id, { mergedInto: null, binnedAt: null });
  return back;
}
