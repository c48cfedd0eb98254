import type { StoredReading } from '@/contract/entry';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import type { StemSetChange } from '@/contract/stemSets';
import type { Property, Reading } from '@/core/readings/reading';
import { sameGrid } from '@/core/rhythm/grid';
import { rankForGrid, rankForKey } from '@/core/stems/rankStems';
import { isRowUnpitched, isToneless } from '../samples/toneless';
import { settleReadings } from '../samples/applyReading';
import { gridReadings, keyReadings, type SpeakingStem } from '../stems/setReadings';
import type { ChangeSet } from './changeSet';
import { RefusedChange } from './refusal';
import type { SnapshotSet } from './snapshot';

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
export function changeStemSet(changeSet: ChangeSet, setId: string, change: StemSetChange): void {
  let set = changeSet.sets().find((one) => one.setId === setId);
  if (!set) throw new RefusedChange({ code: 'no such set' });
  for (const id of [change.gridFrom, change.keyFrom, change.remove])
    if (id && !set.members.includes(id)) throw new RefusedChange({ code: 'no stem of the set' });
  const { members } = set;
  const wasJoined = set.state === 'joined';
  if (change.remove) {
    set = { ...set, members: members.filter((id) => id !== change.remove) };
    if (change.remove === set.gridFrom || change.remove === set.keyFrom) set = ranked(changeSet, set);
    changeSet.supersede(change.remove, 'stem set');
  }
  set = {
    ...set,
    name: change.name ?? set.name,
    state: change.state ?? set.state,
    gridFrom: change.gridFrom ?? set.gridFrom,
    keyFrom: change.keyFrom ?? set.keyFrom,
  };
  changeSet.writeStemSet(set);
  if (set.state === 'joined') {
    // Whoever gives from now on gives what is its own, not what it was given.
    if (change.gridFrom && wasJoined) ownAgain(changeSet, change.gridFrom, 'grid', set);
    if (change.keyFrom && wasJoined) ownAgain(changeSet, change.keyFrom, 'key', set);
    join(changeSet, set);
  } else if (set.state === 'proposed') tell(changeSet, set);
  else part(changeSet, set, members);
}

/** The stems of a set that is none go back to what is their own. */
function part(changeSet: ChangeSet, set: SnapshotSet, members: readonly string[]): void {
  for (const sampleId of members) {
    if (!changeSet.has(sampleId)) continue;
    if (sampleId !== set.gridFrom) ownAgain(changeSet, sampleId, 'grid', set);
    if (sampleId !== set.keyFrom) ownAgain(changeSet, sampleId, 'key', set);
    changeSet.supersede(sampleId, 'stem set');
    const { current, kind } = changeSet.sample(sampleId);
    // What it is was said by the set; what was settled on it as a stem stays settled.
    if (current?.state.kind === 'stem' && kind !== 'stem')
      changeSet.revise(sampleId, { kind: null }, `no longer a stem of “${set.name}”`);
  }
}

/**
 * A stem that was given its grid (or key) by its set has its own again: what measuring says. What was settled on it by its own readings
 * stays.
 */
function ownAgain(changeSet: ChangeSet, sampleId: string, what: Shared, set: SnapshotSet): void {
  const { current, measurement, readings } = changeSet.sample(sampleId);
  if (!current || !measurement) return;
  const { state } = current;
  const isGiven = SHARED[what].properties.some((property) =>
    readings.some(({ readingId, source }) => source === 'stem set' && readingId === state.chosen[property]),
  );
  if (!isGiven) return;
  const wanted = SHARED[what].properties.flatMap((property) => {
    const own = readings.find(
      (one) => one.source === 'detector' && one.property === property && one.rank === 0 && !one.superseded,
    );
    return own ? [own] : [];
  });
  const chosen = { ...state.chosen };
  for (const property of SHARED[what].properties) delete chosen[property];
  const bare = {
    ...state,
    ...(what === 'grid' ? { grid: null, pins: [] } : { key: null, tuningCents: null }),
    chosen,
  };
  const patch = settleReadings(bare, wanted, measurement);
  const empty = what === 'grid' ? { grid: null, pins: [] } : { key: null, tuningCents: null };
  changeSet.revise(
    sampleId,
    { ...empty, chosen, ...patch },
    `its own ${what} again, in the set “${set.name}”`,
  );
}

/** The stems of a set that are not in the bin; those that are stay members for the day they come back. */
const stemsOf = (changeSet: ChangeSet, { members }: SnapshotSet) =>
  members.filter((id) => changeSet.has(id) && changeSet.sample(id).binnedAt === null);

/** Makes the stems of a set share what is settled on those that speak for it. */
export function join(changeSet: ChangeSet, set: SnapshotSet): void {
  for (const sampleId of stemsOf(changeSet, set))
    if (changeSet.sample(sampleId).current && changeSet.state(sampleId).kind !== 'stem')
      changeSet.revise(sampleId, { kind: 'stem', accepted: true }, `a stem of “${set.name}”`, set.setId);
  tell(changeSet, set);
  share(changeSet, set, 'grid', set.gridFrom, set.setId);
  share(changeSet, set, 'key', set.keyFrom, set.setId);
}

/** A set with the stems that tell its rhythm and its key most clearly as those that speak for it. */
export function ranked(changeSet: ChangeSet, set: SnapshotSet): SnapshotSet {
  const stems = stemsOf(changeSet, set).flatMap((id) => {
    const { measurement, arrivedAs } = changeSet.sample(id);
    return measurement ? [{ id, name: arrivedAs, measurement }] : [];
  });
  return { ...set, gridFrom: rankForGrid(stems)[0]?.id ?? null, keyFrom: rankForKey(stems)[0]?.id ?? null };
}

/**
 * After samples changed: what is settled on a stem of a joined set is settled on all of it, once however many of its
 * stems changed; in a proposed one those that speak tell the others again. `before` is what was settled before.
 */
export function spread(
  changeSet: ChangeSet,
  changed: readonly string[],
  before: (sampleId: string) => SettledState | null,
): void {
  for (const set of changeSet.sets()) {
    const inSet = changed.filter((id) => set.members.includes(id));
    if (inSet.length === 0) continue;
    const leaders = (['grid', 'key'] as const).map((what) => {
      const speaks = what === 'grid' ? set.gridFrom : set.keyFrom;
      const moved = inSet.filter((id) => !sameParts(what, changeSet.state(id), before(id) ?? EMPTY_STATE));
      // Of several that changed the one that speaks for the set goes before the others.
      return { what, leader: moved.find((id) => id === speaks) ?? moved[0] ?? null, speaks };
    });
    const [grid, key] = leaders;
    if (set.state === 'proposed') {
      if (leaders.some(({ leader, speaks }) => leader !== null && leader === speaks)) tell(changeSet, set);
    } else if (set.state === 'joined' && (grid.leader || key.leader)) {
      tell(changeSet, { ...set, gridFrom: grid.leader ?? set.gridFrom, keyFrom: key.leader ?? set.keyFrom });
      for (const { what, leader } of leaders) if (leader) share(changeSet, set, what, leader);
    }
  }
}

/** After stems were binned or came back: a set of which the speaker went finds another one, and all are told again. */
export function partAndMeet(changeSet: ChangeSet, sampleIds: readonly string[]): void {
  const touched = changeSet.sets().filter(({ members }) => members.some((id) => sampleIds.includes(id)));
  for (const { members } of touched)
    for (const id of members) if (changeSet.sample(id).binnedAt !== null) changeSet.supersede(id, 'stem set');
  tellAnew(
    changeSet,
    touched.map(({ setId }) => setId),
  );
}

/** Sets that stems left, or came back to, choose who speaks if that was one of them; a stem alone is told nothing. */
export function tellAnew(changeSet: ChangeSet, setIds: readonly string[]): void {
  for (const set of changeSet.sets()) {
    if (set.state === 'refused' || !setIds.includes(set.setId)) continue;
    const stems = stemsOf(changeSet, set);
    const isHere = (id: string | null) => id === null || stems.includes(id);
    const now = isHere(set.gridFrom) && isHere(set.keyFrom) ? set : ranked(changeSet, set);
    if (now !== set) changeSet.writeStemSet(now);
    if (stems.length < 2) for (const id of stems) changeSet.supersede(id, 'stem set');
    else if (now.state === 'joined') join(changeSet, now);
    else tell(changeSet, now);
  }
}

/** Drums of a set are in no key, whatever key the set is in. */
function hasNoPitch(changeSet: ChangeSet, sampleId: string): boolean {
  const sample = changeSet.sample(sampleId);
  const { tags } = changeSet.state(sampleId);
  return isRowUnpitched({ toneless: isToneless({ ...sample, state: sample.current?.state ?? null }), tags });
}

/** Gives the grid or key that is settled on one stem to the others of its set. */
function share(
  changeSet: ChangeSet,
  set: SnapshotSet,
  what: Shared,
  from: string | null,
  joinedSet?: string,
): void {
  if (!from || !changeSet.has(from) || !changeSet.sample(from).current) return;
  // What has no pitch has no key to give.
  if (what === 'key' && hasNoPitch(changeSet, from)) return;
  const given = changeSet.state(from);
  const words = `${what} of “${changeSet.sample(from).arrivedAs}” in the set “${set.name}”`;
  for (const sampleId of stemsOf(changeSet, set)) {
    if (sampleId === from || !changeSet.sample(sampleId).current) continue;
    if (what === 'key' && hasNoPitch(changeSet, sampleId)) continue;
    const state = changeSet.state(sampleId);
    if (sameParts(what, given, state)) continue;
    const patch = Object.fromEntries(SHARED[what].parts.map((name) => [name, given[name]]));
    // What a stem takes from its set was not chosen among its other readings.
    const chosen = { ...state.chosen };
    const told = changeSet
      .sample(sampleId)
      .readings.filter(({ source, superseded }) => source === 'stem set' && !superseded);
    for (const property of SHARED[what].properties) {
      const reading = told.find((one) => one.property === property);
      if (reading) chosen[property] = reading.readingId;
      else delete chosen[property];
    }
    changeSet.revise(sampleId, { ...patch, chosen, accepted: true }, words, joinedSet);
  }
}

function sameParts(what: Shared, a: SettledState, b: SettledState): boolean {
  if (what === 'key')
    return JSON.stringify([a.key, a.tuningCents]) === JSON.stringify([b.key, b.tuningCents]);
  const same = a.grid && b.grid ? sameGrid(a.grid, b.grid) : a.grid === b.grid;
  return same && JSON.stringify(a.pins) === JSON.stringify(b.pins);
}

/** Writes what the stems that speak for a set say as readings of the others. What they said before stays for the record. */
export function tell(changeSet: ChangeSet, set: SnapshotSet): void {
  const grid = speaking(changeSet, set.gridFrom);
  const key = speaking(changeSet, set.keyFrom);
  for (const sampleId of stemsOf(changeSet, set)) {
    const said = [
      ...(grid && sampleId !== set.gridFrom ? gridReadings(grid) : []),
      ...(key && sampleId !== set.keyFrom && !hasNoPitch(changeSet, sampleId) ? keyReadings(key) : []),
    ];
    const known = changeSet
      .sample(sampleId)
      .readings.filter(({ source, superseded }) => source === 'stem set' && !superseded);
    if (JSON.stringify(known.map(contentOf)) === JSON.stringify(said.map(contentOf))) continue;
    changeSet.supersede(sampleId, 'stem set');
    changeSet.read(sampleId, said);
  }
}

/** What a reading says; confidence as the database keeps it. */
function contentOf({ property, value, sureness, detail }: Reading | StoredReading): unknown[] {
  const parts = typeof value === 'object' ? Object.entries(value).sort() : value;
  return [property, parts, Math.fround(sureness), detail];
}

function speaking(changeSet: ChangeSet, sampleId: string | null): SpeakingStem | null {
  if (!sampleId || !changeSet.has(sampleId)) return null;
  const { arrivedAs, measurement, current, readings } = changeSet.sample(sampleId);
  if (!current) return null;
  const chosen = Object.fromEntries(
    Object.entries(current.state.chosen).map(([property, id]) => [
      property,
      readings.find(({ readingId }) => readingId === id)?.sureness,
    ]),
  );
  return { name: arrivedAs, state: current.state, measurement, chosen };
}
