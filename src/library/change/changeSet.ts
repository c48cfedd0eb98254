import type { Curator } from '@/contract/curators';
import type { StoredReading } from '@/contract/entry';
import type { Proof } from '../samples/proofState';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import type { Reading, Source } from '@/core/readings/reading';
import { checkPatch } from './bounds';
import { RefusedChange } from './refusal';
import type { Snapshot, SnapshotRevision, SnapshotSample, SnapshotSet } from './snapshot';

/** A revision that is to be written. */
export interface NewRevision {
  sampleId: string;
  sequence: number;
  /** Revisions after this one had been undone and are abandoned. */
  after: number;
  words: string;
  state: SettledState;
  joinedSet: string | null;
}

/** A reading that is to be written, with its number and its place among its source's. */
export type NumberedReading = Reading & { readingId: string; sampleId: string; rank: number };

/** What a change leaves to be written. */
export interface Writes {
  changeId: string;
  revisions: NewRevision[];
  readings: NumberedReading[];
  superseded: { sampleId: string; source: Source }[];
  proofs: (Proof & { sampleId: string })[];
  /** Sets whose state, name, speakers or members are others now. */
  sets: SnapshotSet[];
  /** Samples that were merged into another, or (null) brought back. */
  merged: { sampleId: string; into: string | null }[];
}

/** A slice that is being worked on: what is read of it is what was done to it so far. */
export interface ChangeSet {
  readonly who: Curator | null;
  /** The time of the change. */
  readonly now: string;
  /** Whether any sample of the slice is meant by that number. */
  has: (sampleId: string) => boolean;
  /** A sample as it is now. Throws RefusedChange for one that is not there. */
  sample: (sampleId: string) => SnapshotSample;
  ids: () => string[];
  state: (sampleId: string) => SettledState;
  sets: () => readonly SnapshotSet[];
  writeStemSet: (set: SnapshotSet) => void;
  /** Settles parts of a sample's state; several in one change are one step of its history. */
  revise: (sampleId: string, patch: Partial<SettledState>, words: string, joinedSet?: string) => void;
  /** Goes to an earlier or later step; what was done in this change before is no step of its own. */
  goTo: (sampleId: string, revision: SnapshotRevision) => void;
  flag: (
    sampleId: string,
    flags: Partial<Pick<SnapshotSample, 'savedAt' | 'binnedAt' | 'mergedInto'>>,
  ) => void;
  /** Adds readings of a source in their order of preference; returns them with their numbers. */
  read: (sampleId: string, readings: readonly Reading[]) => StoredReading[];
  supersede: (sampleId: string, source: Source) => void;
  /** Adds a proof, signed now if it does not say when. */
  prove: (sampleId: string, proof: Omit<Proof, 'proofId' | 'signedAt'> & { signedAt?: string }) => void;
  /** What is to be written. */
  writes: () => Writes;
}

/** `now`: the time of the change; `newId` gives numbers that nothing else has. */
export function changeSetOf(
  snapshot: Snapshot,
  { who, now, newId }: { who: Curator | null; now: string; newId: () => string },
): ChangeSet {
  const samples = new Map(snapshot.samples);
  const sets = new Map(snapshot.sets.map((set) => [set.setId, set]));
  const revisions = new Map<string, NewRevision>();
  const writes: Writes = {
    changeId: newId(),
    revisions: [],
    readings: [],
    superseded: [],
    proofs: [],
    sets: [],
    merged: [],
  };
  const sample = (sampleId: string): SnapshotSample => {
    const found = samples.get(sampleId);
    if (!found) throw new RefusedChange({ code: 'no such sample' });
    return found;
  };
  const put = (sampleId: string, patch: Partial<SnapshotSample>) =>
    samples.set(sampleId, { ...sample(sampleId), ...patch });
  const state = (sampleId: string) => sample(sampleId).current?.state ?? EMPTY_STATE;
  const madeBy = who ? { curatorId: who.curatorId, name: who.name, initials: who.initials } : 'measurement';

  return {
    who,
    now,
    has: (sampleId) => samples.has(sampleId),
    sample,
    ids: () => [...samples.keys()],
    state,
    sets: () => [...sets.values()],
    writeStemSet(set) {
      sets.set(set.setId, set);
      writes.sets = [...writes.sets.filter(({ setId }) => setId !== set.setId), set];
    },
    revise(sampleId, patch, words, joinedSet) {
      const before = sample(sampleId);
      checkPatch(patch, state(sampleId), before.durationSeconds, before.readings);
      const pending = revisions.get(sampleId);
      const sequence = pending?.sequence ?? before.lastSequence + 1;
      const next: NewRevision = {
        sampleId,
        sequence,
        after: pending?.after ?? before.current?.sequence ?? 0,
        words: (pending?.words ?? words).slice(0, 300),
        state: { ...state(sampleId), ...patch },
        joinedSet: joinedSet ?? pending?.joinedSet ?? null,
      };
      revisions.set(sampleId, next);
      put(sampleId, {
        current: { ...next, changeId: writes.changeId, madeBy },
        lastSequence: sequence,
        byCurator: before.byCurator || who !== null,
      });
    },
    goTo(sampleId, revision) {
      put(sampleId, { current: revision });
    },
    flag(sampleId, flags) {
      const { mergedInto } = sample(sampleId);
      put(sampleId, flags);
      if (flags.mergedInto !== undefined && flags.mergedInto !== mergedInto)
        writes.merged.push({ sampleId, into: flags.mergedInto });
    },
    read(sampleId, readings) {
      const ranks = new Map<string, number>();
      const added = readings.map((reading): StoredReading => {
        const kind = `${reading.source} ${reading.property}`;
        const rank = ranks.get(kind) ?? 0;
        ranks.set(kind, rank + 1);
        return { ...reading, readingId: newId(), rank, readAt: now, superseded: false };
      });
      writes.readings.push(...added.map((reading) => ({ ...reading, sampleId })));
      put(sampleId, { readings: [...sample(sampleId).readings, ...added] });
      return added;
    },
    supersede(sampleId, source) {
      const { readings } = sample(sampleId);
      if (!readings.some((one) => one.source === source && !one.superseded)) return;
      writes.superseded.push({ sampleId, source });
      put(sampleId, {
        readings: readings.map((one) => (one.source === source ? { ...one, superseded: true } : one)),
      });
    },
    prove(sampleId, proof) {
      const signed = { signedAt: now, ...proof, proofId: newId() };
      writes.proofs.push({ ...signed, sampleId });
      put(sampleId, { proofs: [signed, ...sample(sampleId).proofs] });
    },
    writes: () => ({ ...writes, revisions: [...revisions.values()] }),
  };
}
