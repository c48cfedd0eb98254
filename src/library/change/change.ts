import type { Curator } from '@/contract/curators';
import type { LightRow, ListRow } from '../samples/listRow';
import type { Order, Target } from '@/contract/orders';
import type { SettledState } from '@/contract/settled';
import type { StemSetChange } from '@/contract/stemSets';
import { lightRow, rowOf } from './doubts';
import { draftOf, type Draft, type Writes } from './draft';
import { mergeInto, reopen } from './merge';
import { patchFor } from './patches';
import { prove, proveByFigures } from './prove';
import { RefusedChange, type Refusal } from './refusal';
import { changeSet, partAndMeet, spread, tellAnew } from './sets';
import type { Slice, SliceRevision } from './slice';
import { settleDerived, type Derived } from './settleDerived';
import { settleUnpacked, type Unpacked } from './settleUnpacked';
import { settleMeasured, type Measured } from './settleMeasured';
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

export interface Outcome {
  done: Done[];
  refused: Refused[];
  /** What is to be written, all of it or nothing. */
  writes: Writes;
  /** The rows of all samples of the slice, said anew; of those that were read lightly what may be another now. */
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
export type Deed =
  | { do: 'order'; order: Order; targets: readonly Target[] }
  /** `parted`: sets that have lost stems to this one. */
  | { do: 'set'; setId: string; change: StemSetChange; parted: readonly string[] }
  | { do: 'merge'; stays: string; goes: string }
  | { do: 'reopen'; pair: readonly [string, string] }
  | ({ do: 'measured' } & Measured)
  | ({ do: 'derived' } & Derived)
  | ({ do: 'unpacked' } & Unpacked)
  /** Nothing by itself: what follows from how things are now (a fault, a likeness, a new set) is said anew. `quietly`: screens need not look. */
  | { do: 'renew'; quietly?: boolean };

/**
 * The only way in which samples change: does a deed to a slice of the library, lets what follows from it follow (what
 * stems of a set share, doubts, standing) and says what is to be written. Orders are done to each target by itself,
 * those that cannot be done are named with the reason; every other deed throws RefusedChange as a whole.
 */
export function change(slice: Slice, deed: Deed, by: By): Outcome {
  const draft = draftOf(slice, by);
  const outcome: Pick<Outcome, 'done' | 'refused'> = { done: [], refused: [] };
  switch (deed.do) {
    case 'order':
      doOrder(draft, slice, deed.order, deed.targets, outcome);
      break;
    case 'set':
      changeSet(draft, deed.setId, deed.change);
      tellAnew(draft, deed.parted);
      break;
    case 'merge':
      mergeInto(draft, deed.stays, deed.goes);
      partAndMeet(draft, [deed.goes]);
      break;
    case 'reopen':
      partAndMeet(draft, reopen(draft, deed.pair));
      break;
    case 'measured':
      settleMeasured(draft, deed);
      break;
    case 'derived':
      settleDerived(draft, deed);
      break;
    case 'unpacked':
      settleUnpacked(draft, deed);
      break;
    case 'renew':
  }
  return {
    ...outcome,
    writes: draft.writes(),
    ...rowsOf(draft, slice),
  };
}

function rowsOf(draft: Draft, { likenesses }: Slice): Pick<Outcome, 'rows' | 'lightRows'> {
  const rows: ListRow[] = [];
  const lightRows: LightRow[] = [];
  for (const sampleId of draft.ids()) {
    const { kept } = draft.sample(sampleId);
    if (kept) lightRows.push(lightRow(draft, sampleId, kept, likenesses));
    else rows.push(rowOf(draft, sampleId, likenesses));
  }
  return { rows, lightRows };
}

/** Orders that change nothing that measurement, readings or proofs have a part in: those need not be read. */
const LIGHT: readonly Order['do'][] = ['tags', 'write', 'save', 'unsave', 'bin', 'restore'];
export const isLight = (deed: Deed): boolean => deed.do === 'order' && LIGHT.includes(deed.order.do);

function doOrder(
  draft: Draft,
  slice: Slice,
  order: Order,
  targets: readonly Target[],
  { done, refused }: Pick<Outcome, 'done' | 'refused'>,
) {
  const before = (sampleId: string): SettledState | null =>
    slice.samples.get(sampleId)?.current?.state ?? null;
  const moved: string[] = [];
  const binned: string[] = [];
  for (const { sampleId, base } of targets) {
    try {
      const sample = draft.sample(sampleId);
      const seen = slice.samples.get(sampleId)!.current;
      if (base !== null && base !== (seen?.sequence ?? null)) throw new RefusedChange(staleOf(seen));
      const sequence = seen?.sequence ?? null;
      // A step that another one of its change was taken back with.
      if (sample.current && sample.current.sequence !== sequence) {
        done.push({ sampleId, made: sample.current.sequence, binned: null });
        continue;
      }
      const wasBinned = sample.binnedAt !== null;
      if (!doTo(draft, sampleId, order)) continue;
      const now = draft.sample(sampleId);
      const isBinned = now.binnedAt !== null;
      if (isBinned !== wasBinned) binned.push(sampleId);
      const made = now.current && now.current.sequence !== sequence ? now.current.sequence : null;
      if (made !== null) moved.push(sampleId);
      done.push({ sampleId, made, binned: isBinned === wasBinned ? null : isBinned });
    } catch (error) {
      if (!(error instanceof RefusedChange)) throw error;
      const sample = slice.samples.get(sampleId);
      const name = sample ? (sample.current?.state.title ?? sample.arrivedAs) : sampleId;
      refused.push({ sampleId, name, refusal: error.refusal });
    }
  }
  spread(draft, moved, before);
  partAndMeet(draft, binned);
}

function staleOf(seen: SliceRevision | null): Refusal {
  const by = seen?.madeBy && seen.madeBy !== 'measurement' ? seen.madeBy.name : null;
  return { code: 'changed elsewhere', by, words: seen?.words ?? null };
}

/** Does an order to one sample; false when there was nothing to do. */
function doTo(draft: Draft, sampleId: string, order: Order): boolean {
  const sample = draft.sample(sampleId);
  const name = draft.state(sampleId).title ?? sample.arrivedAs;
  switch (order.do) {
    case 'bin':
    case 'restore': {
      const isBinned = sample.binnedAt !== null;
      if (isBinned === (order.do === 'bin')) return false;
      if (sample.mergedInto !== null) throw new RefusedChange({ code: 'merged', name });
      draft.flag(sampleId, { binnedAt: order.do === 'bin' ? draft.now : null });
      return true;
    }
    case 'save':
      if (!sample.isMeasured) throw new RefusedChange({ code: 'not measured yet', name, what: 'save' });
      if (sample.savedAt === null) draft.flag(sampleId, { savedAt: draft.now });
      return true;
    case 'unsave':
      draft.flag(sampleId, { savedAt: null });
      return true;
    case 'prove':
      prove(draft, sampleId, order);
      return true;
    case 'prove by figures':
      proveByFigures(draft, sampleId);
      return true;
    case 'undo':
    case 'redo':
      return step(draft, sampleId, order);
    case 'return': {
      const { previous: earlier, current } = sample;
      if (!current) throw new RefusedChange({ code: 'not measured yet', name: null, what: 'settle' });
      if (!earlier || earlier.sequence !== order.sequence) throw new RefusedChange({ code: 'no such state' });
      draft.revise(sampleId, earlier.state, `back to “${earlier.words}”`);
      return true;
    }
    default: {
      if (!sample.current) throw new RefusedChange({ code: 'not measured yet', name: null, what: 'settle' });
      const patch = patchFor(draft, sampleId, order);
      if (!patch) return false;
      draft.revise(sampleId, patch, wordsOf(order));
      return true;
    }
  }
}

/** One step back or forth in a sample's history, in all samples in which the same change made one; false at its ends. */
function step(draft: Draft, sampleId: string, order: Extract<Order, { do: 'undo' | 'redo' }>): boolean {
  const { current, previous, following } = draft.sample(sampleId);
  const way = order.do === 'undo' ? previous : following;
  if (!current || !way) return false;
  const step = order.do === 'undo' ? current : following!;
  if (order.do === 'undo') {
    const { madeBy, joinedSet } = current;
    const isForeign =
      madeBy !== null && madeBy !== 'measurement' && madeBy.curatorId !== draft.who?.curatorId;
    if (isForeign && !order.evenForeign)
      throw new RefusedChange({ code: 'step of another', by: madeBy.name, words: current.words });
    const set = draft.sets().find(({ setId, state }) => setId === joinedSet && state === 'joined');
    if (set) throw new RefusedChange({ code: 'set joined since', set: set.name });
  }
  draft.goTo(sampleId, way);
  if (step.changeId === null) return true;
  for (const other of draft.ids()) {
    if (other === sampleId) continue;
    const mate = draft.sample(other);
    const theirs = order.do === 'undo' ? mate.current : mate.following;
    const there = order.do === 'undo' ? mate.previous : mate.following;
    if (theirs?.changeId === step.changeId && there) draft.goTo(other, there);
  }
  return true;
}
