import type { StoredReading } from '@/contract/entry';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import type { StemSetChange } from '@/contract/stemSets';
import type { Property, Reading } from '@/core/readings/reading';
import { sameGrid } from '@/core/rhythm/grid';
import { rankForGrid, rankForKey } from '@/core/stems/rankStems';
import { gridReadings, keyReadings, type SpeakingStem } from '../stems/setReadings';
import type { Draft } from './draft';
import { RefusedChange } from './refusal';
import type { SliceSet } from './slice';

/** What stems of a joined set share: parts of the settled state, and the properties that are settled with them. */
const SHARED = {
  grid: { parts: ['grid', 'pins'], properties: ['tempo', 'one', 'meter'] },
  key: { parts: ['key', 'tuningCents'], properties: ['key', 'tuning'] },
} as const satisfies Record<
  string,
  { parts: readonly (keyof SettledState)[]; properties: readonly Property[] }
>;
type Shared = keyof typeof SHARED;

/** Joins or refuses a proposed set, changes who gives its grid or key, renames it, or lets a stem go. */
export function changeSet(draft: Draft, setId: string, change: StemSetChange): void {
  let set = draft.sets().find((one) => one.setId === setId);
  if (!set) throw new RefusedChange({ code: 'no such set' });
  for (const id of [change.gridFrom, change.keyFrom, change.remove])
    if (id && !set.members.includes(id)) throw new RefusedChange({ code: 'no stem of the set' });
  const { members } = set;
  if (change.remove) {
    set = { ...set, members: members.filter((id) => id !== change.remove) };
    if (change.remove === set.gridFrom || change.remove === set.keyFrom) set = ranked(draft, set);
    draft.supersede(change.remove, 'stem set');
  }
  set = {
    ...set,
    name: change.name ?? set.name,
    state: change.state ?? set.state,
    gridFrom: change.gridFrom ?? set.gridFrom,
    keyFrom: change.keyFrom ?? set.keyFrom,
  };
  draft.changeSet(set);
  if (set.state === 'joined') join(draft, set);
  else if (set.state === 'proposed') tell(draft, set);
  else for (const sampleId of members) draft.supersede(sampleId, 'stem set');
}

/** The stems of a set that are not in the bin; those that are stay members for the day they come back. */
const stemsOf = (draft: Draft, { members }: SliceSet) =>
  members.filter((id) => draft.has(id) && draft.sample(id).binnedAt === null);

/** Makes the stems of a set share what is settled on those that speak for it. */
export function join(draft: Draft, set: SliceSet): void {
  for (const sampleId of stemsOf(draft, set))
    if (draft.sample(sampleId).current && draft.state(sampleId).kind !== 'stem')
      draft.revise(sampleId, { kind: 'stem', accepted: true }, `a stem of “${set.name}”`, set.setId);
  tell(draft, set);
  share(draft, set, 'grid', set.gridFrom, set.setId);
  share(draft, set, 'key', set.keyFrom, set.setId);
}

/** A set with the stems that tell its rhythm and its key most clearly as those that speak for it. */
export function ranked(draft: Draft, set: SliceSet): SliceSet {
  const stems = stemsOf(draft, set).flatMap((id) => {
    const { measurement, arrivedAs } = draft.sample(id);
    return measurement ? [{ id, name: arrivedAs, measurement }] : [];
  });
  return { ...set, gridFrom: rankForGrid(stems)[0]?.id ?? null, keyFrom: rankForKey(stems)[0]?.id ?? null };
}

/**
 * After samples changed: what is settled on a stem of a joined set is settled on all of it, once however many of its
 * stems changed; in a proposed one those that speak tell the others anew. `before` is what was settled before.
 */
export function spread(
  draft: Draft,
  changed: readonly string[],
  before: (sampleId: string) => SettledState | null,
): void {
  for (const set of draft.sets()) {
    const inSet = changed.filter((id) => set.members.includes(id));
    if (inSet.length === 0) continue;
    const leaders = (['grid', 'key'] as const).map((what) => {
      const speaks = what === 'grid' ? set.gridFrom : set.keyFrom;
      const moved = inSet.filter((id) => !sameParts(what, draft.state(id), before(id) ?? EMPTY_STATE));
      // Of several that changed the one that speaks for the set goes before the others.
      return { what, leader: moved.find((id) => id === speaks) ?? moved[0] ?? null, speaks };
    });
    const [grid, key] = leaders;
    if (set.state === 'proposed') {
      if (leaders.some(({ leader, speaks }) => leader !== null && leader === speaks)) tell(draft, set);
    } else if (set.state === 'joined' && (grid.leader || key.leader)) {
      tell(draft, { ...set, gridFrom: grid.leader ?? set.gridFrom, keyFrom: key.leader ?? set.keyFrom });
      for (const { what, leader } of leaders) if (leader) share(draft, set, what, leader);
    }
  }
}

/** After stems were binned or came back: a set of which the speaker went finds another one, and all are told anew. */
export function partAndMeet(draft: Draft, sampleIds: readonly string[]): void {
  const touched = draft.sets().filter(({ members }) => members.some((id) => sampleIds.includes(id)));
  for (const { members } of touched)
    for (const id of members) if (draft.sample(id).binnedAt !== null) draft.supersede(id, 'stem set');
  tellAnew(
    draft,
    touched.map(({ setId }) => setId),
  );
}

/** Sets that stems left, or came back to, choose who speaks if that was one of them; a stem alone is told nothing. */
export function tellAnew(draft: Draft, setIds: readonly string[]): void {
  for (const set of draft.sets()) {
    if (set.state === 'refused' || !setIds.includes(set.setId)) continue;
    const stems = stemsOf(draft, set);
    const isHere = (id: string | null) => id === null || stems.includes(id);
    const now = isHere(set.gridFrom) && isHere(set.keyFrom) ? set : ranked(draft, set);
    if (now !== set) draft.changeSet(now);
    if (stems.length < 2) for (const id of stems) draft.supersede(id, 'stem set');
    else if (now.state === 'joined') join(draft, now);
    else tell(draft, now);
  }
}

/** Gives the grid or key that is settled on one stem to the others of its set. */
function share(draft: Draft, set: SliceSet, what: Shared, from: string | null, joinedSet?: string): void {
  if (!from || !draft.has(from) || !draft.sample(from).current) return;
  const given = draft.state(from);
  const words = `${what} of “${draft.sample(from).arrivedAs}” in the set “${set.name}”`;
  for (const sampleId of stemsOf(draft, set)) {
    if (sampleId === from || !draft.sample(sampleId).current) continue;
    const state = draft.state(sampleId);
    if (sameParts(what, given, state)) continue;
    const patch = Object.fromEntries(SHARED[what].parts.map((name) => [name, given[name]]));
    // What a stem takes from its set was not chosen among its other readings.
    const chosen = { ...state.chosen };
    const told = draft
      .sample(sampleId)
      .readings.filter(({ source, superseded }) => source === 'stem set' && !superseded);
    for (const property of SHARED[what].properties) {
      const reading = told.find((one) => one.property === property);
      if (reading) chosen[property] = reading.readingId;
      else delete chosen[property];
    }
    draft.revise(sampleId, { ...patch, chosen, accepted: true }, words, joinedSet);
  }
}

function sameParts(what: Shared, a: SettledState, b: SettledState): boolean {
  if (what === 'key')
    return JSON.stringify([a.key, a.tuningCents]) === JSON.stringify([b.key, b.tuningCents]);
  const same = a.grid && b.grid ? sameGrid(a.grid, b.grid) : a.grid === b.grid;
  return same && JSON.stringify(a.pins) === JSON.stringify(b.pins);
}

/** Writes what the stems that speak for a set say as readings of the others. What they said before stays for the record. */
export function tell(draft: Draft, set: SliceSet): void {
  const grid = speaking(draft, set.gridFrom);
  const key = speaking(draft, set.keyFrom);
  for (const sampleId of stemsOf(draft, set)) {
    const said = [
      ...(grid && sampleId !== set.gridFrom ? gridReadings(grid) : []),
      ...(key && sampleId !== set.keyFrom ? keyReadings(key) : []),
    ];
    const known = draft
      .sample(sampleId)
      .readings.filter(({ source, superseded }) => source === 'stem set' && !superseded);
    if (JSON.stringify(known.map(contentOf)) === JSON.stringify(said.map(contentOf))) continue;
    draft.supersede(sampleId, 'stem set');
    draft.read(sampleId, said);
  }
}

/** What a reading says; sureness as the database keeps it. */
function contentOf({ property, value, sureness, detail }: Reading | StoredReading): unknown[] {
  const parts = typeof value === 'object' ? Object.entries(value).sort() : value;
  return [property, parts, Math.fround(sureness), detail];
}

function speaking(draft: Draft, sampleId: string | null): SpeakingStem | null {
  if (!sampleId || !draft.has(sampleId)) return null;
  const { arrivedAs, measurement, current, readings } = draft.sample(sampleId);
  if (!current) return null;
  const chosen = Object.fromEntries(
    Object.entries(current.state.chosen).map(([property, id]) => [
      property,
      readings.find(({ readingId }) => readingId === id)?.sureness,
    ]),
  );
  return { name: arrivedAs, state: current.state, measurement, chosen };
}
