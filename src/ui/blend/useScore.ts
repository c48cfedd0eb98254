'use client';
import { useQueries } from '@tanstack/react-query';
import { useDeferredValue, useMemo } from 'react';
import type { Blend } from '@/contract/blend';
import { agreementOf, harmonyOf, type Agreement, type LaneHarmony } from '@/library/blend/harmony';
import type { Key } from '@/core/harmony/keyNames';
import { keyChanges } from '@/library/blend/keyChanges';
import { laneFactsOf, type LaneFacts } from '@/library/blend/parts';
import { scoreOf, type Score } from '@/library/blend/score';
import { flamsOf, timingOf, type Flam, type LaneTiming } from '@/library/blend/timing';
import type { SampleEntry } from '@/contract/entry';
import type { Traces } from '@/core/traces/traces';
import { entryQuery, tracesQuery } from '../api/useEntry';
import { useSame } from '../kit/useSame';

export interface Scored {
  score: Score;
  /** The score that the agreement is told of: a little behind while something is pulled. */
  judged: Score;
  /** By sample; undefined while it is fetched. */
  entries: ReadonlyMap<string, SampleEntry>;
  traces: ReadonlyMap<string, Traces>;
  facts: ReadonlyMap<string, LaneFacts | null>;
  harmony: LaneHarmony[];
  agreement: Agreement;
  timing: LaneTiming[];
  flams: Flam[];
  /** Where a lane goes to another key. */
  keyChanges: { laneId: string; bar: number; key: Key }[];
  /** All samples are known: what is silent is silent for a reason. */
  isKnown: boolean;
}

const known = new WeakMap<SampleEntry, LaneFacts | null>();
function factsOf(entry: SampleEntry): LaneFacts | null {
  if (!known.has(entry)) known.set(entry, laneFactsOf(entry));
  return known.get(entry)!;
}

/** What a blend comes to with its samples as they are settled, and whether its lanes agree. */
export function useScore(state: Blend): Scored {
  const ids = useSame([...new Set(state.lanes.map(({ sampleId }) => sampleId))]);
  const fetched = useQueries({ queries: ids.map((id) => ({ ...entryQuery(id), retry: false })) });
  const drawn = useQueries({ queries: ids.map((id) => ({ ...tracesQuery(id), retry: false })) });
  const entries = useMapOf(
    ids,
    fetched.map(({ data }) => data),
  );
  const traces = useMapOf(
    ids,
    drawn.map(({ data }) => data ?? undefined),
  );
  const isKnown = fetched.every(({ isPending }) => !isPending);
  const facts = useMemo(
    () => new Map(ids.map((id) => [id, entries.has(id) ? factsOf(entries.get(id)!) : null])),
    [ids, entries],
  );
  // What only says how loud lanes are does not move anything.
  const score = useMemo(() => scoreOf(state, facts), [state, facts]);
  // What is heard and drawn comes first; what is said of it may come a moment later.
  const judged = useDeferredValue(score);
  const harmony = useMemo(
    () =>
      judged.lanes.map((one) =>
        harmonyOf(
          one,
          judged,
          traces.get(one.lane.sampleId)?.chords ?? null,
          facts.get(one.lane.sampleId)?.fittable.isUnpitched ?? true,
        ),
      ),
    [judged, traces, facts],
  );
  const agreement = useMemo(() => agreementOf(harmony, state.key), [harmony, state.key]);
  const timing = useMemo(() => timingOf(judged), [judged]);
  const flams = useMemo(() => flamsOf(judged), [judged]);
  const changes = useMemo(
    () =>
      harmony
        .filter(({ isSilent }) => !isSilent)
        .flatMap((one) => keyChanges(one).map((change) => ({ laneId: one.laneId, ...change }))),
    [harmony],
  );
  return useMemo(
    () => ({
      score,
      judged,
      entries,
      traces,
      facts,
      harmony,
      agreement,
      timing,
      flams,
      keyChanges: changes,
      isKnown,
    }),
    [score, judged, entries, traces, facts, harmony, agreement, timing, flams, changes, isKnown],
  );
}

/** A map that stays the same as long as what is in it does. */
function useMapOf<Value>(
  ids: readonly string[],
  values: readonly (Value | undefined)[],
): ReadonlyMap<string, Value> {
  const stable = useSame(values);
  return useMemo(
    () => new Map(ids.flatMap((id, i) => (stable[i] === undefined ? [] : [[id, stable[i]] as const]))),
    [ids, stable],
  );
}
