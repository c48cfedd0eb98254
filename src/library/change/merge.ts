import type { Reading, Source } from '@/core/readings/reading';
import type { ChangeSet } from './changeSet';

/** What these say is true of the one sample alone. */
const OF_ITSELF: readonly Source[] = ['detector', 'newer measurement', 'stem set'];

/** Merges one sample into another: its tags, note and readings go to the one that stays, and it goes to the bin. */
export function mergeInto(changeSet: ChangeSet, stays: string, goes: string): void {
  const gone = changeSet.sample(goes);
  const words = `from “${gone.arrivedAs}”`;
  const known = changeSet.sample(stays).readings;
  const copied = gone.readings
    .filter(({ superseded, source }) => !superseded && !OF_ITSELF.includes(source))
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
  changeSet.read(stays, copied);
  if (changeSet.sample(stays).current && gone.current) {
    const state = changeSet.state(stays);
    const other = changeSet.state(goes);
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
      changeSet.revise(stays, merged, `merged with “${gone.arrivedAs}”`);
  }
  changeSet.flag(goes, { mergedInto: stays, binnedAt: changeSet.now });
}

/** Takes a merging back: what went is there again; what was copied stays in the history. Returns who came back. */
export function reopen(changeSet: ChangeSet, pair: readonly [string, string]): string[] {
  const back = pair.filter((id) => changeSet.sample(id).mergedInto !== null);
  for (const id of back) changeSet.flag(id, { mergedInto: null, binnedAt: null });
  return back;
}
