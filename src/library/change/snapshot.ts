import type { PlanFault } from '@/core/recipes/differences';
import type { Proof } from '../samples/proofState';
import type { ListRow } from '../samples/listRow';
import type { MadeBy, StoredReading } from '@/contract/entry';
import type { Likeness } from '@/contract/likenesses';
import type { SettledState } from '@/contract/settled';
import type { Measurement, SampleKind } from '@/core/measurement/schema';

/** One step in a sample's history: what it was settled as, and by which change. */
export interface SnapshotRevision {
  sequence: number;
  words: string;
  state: SettledState;
  /** Revisions that one change made in several samples share it; they are undone together. */
  changeId: string | null;
  madeBy: MadeBy | null;
  /** The stem set that was joined by it, or null. */
  joinedSet: string | null;
}

/** Parts of a sample's row that stay as they are. */
export type KeptRow = Pick<
  ListRow,
  'proof' | 'doubts' | 'todos' | 'tempoSureness' | 'keySureness' | 'strainGroup' | 'toneless'
>;

/** Everything about one sample that a change may rest on or alter. */
export interface SnapshotSample {
  sampleId: string;
  /** The name as it arrived. */
  arrivedAs: string;
  folder: string;
  arrivedAt: string;
  sha256: string;
  durationSeconds: number | null;
  /** What measuring says that it is. */
  kind: SampleKind | null;
  fault: string | null;
  warnings: readonly string[];
  /** Null before it is measured, and where it was not read (`kept`). */
  measurement: Measurement | null;
  isMeasured: boolean;
  /**
   * What its row says that follows from measurement, readings and proofs, for orders that change none of it: those were not read.
   * Null where they were.
   */
  kept: KeptRow | null;
  mergedInto: string | null;
  savedAt: string | null;
  binnedAt: string | null;
  /** The present revision; null before it is measured. */
  current: SnapshotRevision | null;
  /** The number of its last revision, abandoned ones included; 0 before the first. */
  lastSequence: number;
  /** Whether a curator has settled anything of it. */
  byCurator: boolean;
  /** Where undo, redo or a way back to an earlier state would lead; only where it was asked for. */
  previous: SnapshotRevision | null;
  following: SnapshotRevision | null;
  /** It was made here, by a recipe or out of a blend; with so many whole bars, where it has any. */
  isMade: boolean;
  madeBars: number | null;
  /** Where it was made by a recipe: in what it is not what was planned. */
  offPlan: readonly PlanFault[];
  /** Oldest first, with those that others took the place of. */
  readings: readonly StoredReading[];
  /** Newest first. */
  proofs: readonly Proof[];
}

/** A stem set with all of its members. */
export interface SnapshotSet {
  setId: string;
  name: string;
  state: 'proposed' | 'joined' | 'refused';
  gridFrom: string | null;
  keyFrom: string | null;
  members: readonly string[];
}

/** An undecided pair of like samples, of which `b` came later. */
export interface SnapshotLikeness {
  a: string;
  b: string;
  relation: Likeness['relation'];
  /** The name that `a` goes by, and whether it lies in the bin: it may be outside of the slice. */
  aName: string;
  aBinned: boolean;
}

/** All that one change touches, as it stood in the database when it was locked. */
export interface Snapshot {
  samples: ReadonlyMap<string, SnapshotSample>;
  sets: readonly SnapshotSet[];
  likenesses: readonly SnapshotLikeness[];
}
