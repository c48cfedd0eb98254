import type { Curator } from '@/contract/curators';
import type { LightRow, ListRow } from '../samples/listRow';
import type { Order, Target } from '@/contract/orders';
import type { SettledState } from '@/contract/settled';
import type { StemSetChange } from '@/contract/stemSets';
import { lightRow, rowOf } from './doubts';
import { changeSetOf, type ChangeSet, type Writes } from './changeSet';
import { mergeInto, reopen } from './merge';
import { patchFor } from './patches';
import { prove, proveByFigures } from './prove';
import { RefusedChange, type Refusal } from './refusal';
import { changeStemSet, partAndMeet, spread, tellAnew } from './sets';
import type { Snapshot, SnapshotRevision } from './snapshot';
import { settleDerived, type Derived } from './settleDerived';
import { settleUnpacked, type Unpacked } from './settleUnpacked';
import { keepCompared, settleMeasured, type Compared, type Measured } from './settleMeasured';
import { wordsOf } from './words';

/** What was done to one sample. */
export interface Done {
  sampleId: string;
  /** The revision that was made, or null when none was. */
  made: number | null;
  /** Whether it was put into the bin (or taken out); null when neither. */
  binned: boolean | null;
}

interface Refused {
  sampleId: string;
  name: string;
  refusal: Refusal;
}

export interface ChangeResult {
  done: Done[];
  refused: Refused[];
  /** What is to be written, all of it or nothing. */
  writes: Writes;
  /** The rows of all samples of the slice, said again; of those that were read lightly what may be another now. */
  rows: ListRow[];
  lightRows: LightRow[];
}

/** Who changes and when; `newId` gives numbers that nothing else has. */
export interface By {
  who: Curator | null;
  now: string;
  newId: () => string;
}

/** What is done to a slice beyond orders that name samples one by one. */
export type Command =
  | { do: 'order'; order: Order; targets: readonly Target[] }
  /** `parted`: sets that have lost stems to this one. */
  | { do: 'set'; setId: string; change: StemSetChange; parted: readonly string[] }
  | { do: 'merge'; stays: string; goes: string }
  | { do: 'reopen'; pair: readonly [string, string] }
  | ({ do: 'measured' } & Measured)
  | ({ do: 'compared' } & Compared)
  | ({ do: 'derived' } & Derived)
  | ({ do: 'unpacked' } & Unpacked)
  /** Nothing by itself: what follows from how things are now (a fault, a likeness, a new set) is said anew. `quietly`: screens need not look. */
  | { do: 'renew'; quietly?: boolean };

/**
 * The only way in which samples change: does a command to a slice of the library, lets what follows from it follow (what
 * stems of a set share, doubts, standing) and says what is to be written. Orders are done to each target by itself,
 * those that cannot be done are named with the reason; every other command throws RefusedChange as a whole.
 */
export function change(snapshot: Snapshot, command: Command, by: By): ChangeResult {
  const changeSet = changeSetOf(snapshot, by);
  const result: Pick<ChangeResult, 'done' | 'refused'> = { done: [], refused: [] };
  switch (command.do) {
    case 'order':
      doOrder(changeSet, snapshot, command.order, command.targets, result);
      break;
    case 'set':
      changeStemSet(changeSet, command.setId, command.change);
      tellAnew(changeSet, command.parted);
      break;
    case 'merge':
      mergeInto(changeSet, command.stays, command.goes);
      partAndMeet(changeSet, [command.goes]);
      break;
    case 'reopen':
      partAndMeet(changeSet, reopen(changeSet, command.pair));
      break;
    case 'measured':
      settleMeasured(changeSet, command);
      break;
    case 'compared':
      keepCompared(changeSet, command);
      break;
    case 'derived':
      settleDerived(changeSet, command);
      break;
    case 'unpacked':
      settleUnpacked(changeSet, command);
      break;
    case 'renew':
  }
  return {
    ...result,
    writes: changeSet.writes(),
    ...rowsOf(changeSet, snapshot),
  };
}

function rowsOf(changeSet: ChangeSet, { likenesses }: Snapshot): Pick<ChangeResult, 'rows' | 'lightRows'> {
  const rows: ListRow[] = [];
  const lightRows: LightRow[] = [];
  for (const sampleId of changeSet.ids()) {
    const { kept } = changeSet.sample(sampleId);
    if (kept) lightRows.push(lightRow(changeSet, sampleId, kept, likenesses));
    else rows.push(rowOf(changeSet, sampleId, likenesses));
  }
  return { rows, lightRows };
}

/** Orders that change nothing that measurement, readings or proofs have a part in: those need not be read. */
const LIGHT: readonly Order['do'][] = ['tags', 'write', 'save', 'unsave', 'bin', 'restore'];
export const isLight = (command: Command): boolean =>
  command.do === 'order' && LIGHT.includes(command.order.do);

function doOrder(
  changeSet: ChangeSet,
  snapshot: Snapshot,
  order: Order,
  targets: readonly Target[],
  { done, refused }: Pick<ChangeResult, 'done' | 'refused'>,
) {
  const before = (sampleId: string): SettledState | null =>
    snapshot.samples.get(sampleId)?.current?.state ?? null;
  const moved: string[] = [];
  const binned: string[] = [];
  for (const { sampleId, base } of targets) {
    try {
      const sample = changeSet.sample(sampleId);
      const seen = snapshot.samples.get(sampleId)!.current;
      if (base !== null && base !== (seen?.sequence ?? null)) throw new RefusedChange(staleOf(seen));
      const sequence = seen?.sequence ?? null;
      // A step that another one of its change was undone with.
      if (sample.current && sample.current.sequence !== sequence) {
        done.push({ sampleId, made: sample.current.sequence, binned: null });
        continue;
      }
      const wasBinned = sample.binnedAt !== null;
      if (!doTo(changeSet, sampleId, order)) continue;
      const now = changeSet.sample(sampleId);
      const isBinned = now.binnedAt !== null;
      if (isBinned !== wasBinned) binned.push(sampleId);
      const made = now.current && now.current.sequence !== sequence ? now.current.sequence : null;
      if (made !== null) moved.push(sampleId);
      done.push({ sampleId, made, binned: isBinned === wasBinned ? null : isBinned });
    } catch (error) {
      if (!(error instanceof RefusedChange)) throw error;
      const sample = snapshot.samples.get(sampleId);
      const name = sample ? (sample.current?.state.title ?? sample.arrivedAs) : sampleId;
      refused.push({ sampleId, name, refusal: error.refusal });
    }
  }
  spread(changeSet, moved, before);
  partAndMeet(changeSet, binned);
}

function staleOf(seen: SnapshotRevision | null): Refusal {
  const by = seen?.madeBy && seen.madeBy !== 'measurement' ? seen.madeBy.name : null;
  return { code: 'changed elsewhere', by, words: seen?.words ?? null };
}

/** Does an order to one sample; false when there was nothing to do. */
function doTo(changeSet: ChangeSet, sampleId: string, order: Order): boolean {
  const sample = changeSet.sample(sampleId);
  const name = changeSet.state(sampleId).title ?? sample.arrivedAs;
  switch (order.do) {
    case 'bin':
    case 'restore': {
      const isBinned = sample.binnedAt !== null;
      if (isBinned === (order.do === 'bin')) return false;
      if (sample.mergedInto !== null) throw new RefusedChange({ code: 'merged', name });
      changeSet.flag(sampleId, { binnedAt: order.do === 'bin' ? changeSet.now : null });
      return true;
    }
    case 'save':
      if (!sample.isMeasured) throw new RefusedChange({ code: 'not measured yet', name, what: 'save' });
      if (sample.savedAt === null) changeSet.flag(sampleId, { savedAt: changeSet.now });
      return true;
    case 'unsave':
      changeSet.flag(sampleId, { savedAt: null });
      return true;
    case 'prove':
      prove(changeSet, sampleId, order);
      return true;
    case 'prove by figures':
      proveByFigures(changeSet, sampleId);
      return true;
    case 'undo':
    case 'redo':
      return step(changeSet, sampleId, order);
    case 'return': {
      const { previous: earlier, current } = sample;
      if (!current) throw new RefusedChange({ code: 'not measured yet', name: null, what: 'settle' });
      if (!earlier || earlier.sequence !== order.sequence) throw new RefusedChange({ code: 'no such state' });
      changeSet.revise(sampleId, earlier.state, `restored “${earlier.words}”`);
      return true;
    }
    default: {
      if (!sample.current) throw new RefusedChange({ code: 'not measured yet', name: null, what: 'settle' });
      const patch = patchFor(changeSet, sampleId, order);
      if (!patch) return false;
      changeSet.revise(sampleId, patch, wordsOf(order));
      return true;
    }
  }
}

/** One step back or forth in a sample's history, in all samples in which the same change made one; false at its ends. */
function step(
  changeSet: ChangeSet,
  sampleId: string,
  order: Extract<Order, { do: 'undo' | 'redo' }>,
): boolean {
  const { current, previous, following } = changeSet.sample(sampleId);
  const way = order.do === 'undo' ? previous : following;
  if (!current || !way) return false;
  const step = order.do === 'undo' ? current : following!;
  if (order.do === 'undo') {
    const { madeBy, joinedSet } = current;
    const isForeign =
      madeBy !== null && madeBy !== 'measurement' && madeBy.curatorId !== changeSet.who?.curatorId;
    if (isForeign && !order.evenForeign)
      throw new RefusedChange({ code: 'step of another', by: madeBy.name, words: current.words });
    const set = changeSet.sets().find(({ setId, state }) => setId === joinedSet && state === 'joined');
    if (set) throw new RefusedChange({ code: 'set joined since', set: set.name });
  }
  changeSet.goTo(sampleId, way);
  if (step.changeId === null) return true;
  for (const other of changeSet.ids()) {
    if (other === sampleId) continue;
    const mate = changeSet.sample(other);
    const theirs = order.do === 'undo' ? mate.current : mate.following;
    const there = order.do === 'undo' ? mate.previous : mate.following;
    if (theirs?.changeId === step.changeId && there) changeSet.goTo(other, there);
  }
  return true;
}
