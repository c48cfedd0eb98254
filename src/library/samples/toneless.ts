import { isUnpitched } from '@/core/timeStretch/proposal';
import type { Measurement } from '@/core/measurement/schema';
import type { SettledState } from '@/contract/settled';
import type { StoredReading } from '@/contract/entry';

interface Known {
  measurement: Measurement | null;
  state: Pick<SettledState, 'key' | 'chosen'> | null;
  readings: readonly Pick<StoredReading, 'readingId' | 'source'>[];
}

/**
 * Whether a sample has no lasting pitch: measuring found none, or somebody settled that it has no key. A key that a curator, a name or
 * a recipe gave it goes before measuring; the key of its stem set does not: the set is in that key, its drums are not.
 */
export function isToneless({ measurement, state, readings }: Known): boolean {
  if (state?.key && 'none' in state.key) return true;
  if (!measurement || measurement.key !== null) return false;
  if (!state?.key) return true;
  const chosen = state.chosen.key;
  return readings.some(({ readingId, source }) => readingId === chosen && source === 'stem set');
}

/** Whether the sample of a row is never transposed unless somebody asks for it: no lasting pitch, or drums and percussion by its tags. */
export const isRowUnpitched = ({
  toneless,
  tags,
}: {
  toneless: boolean;
  tags: readonly { facet: string; value: string }[];
}): boolean => toneless || isUnpitched(tags);
