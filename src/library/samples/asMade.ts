import type { StoredReading } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';

/** Whether the tempo that is settled is the one that a sample was made with: then its grid is exact by construction. */
export const isGridAsMade = (
  readings: readonly Pick<StoredReading, 'readingId' | 'source'>[],
  chosen: SettledState['chosen'],
): boolean => readings.some(({ readingId, source }) => source === 'derived' && readingId === chosen.tempo);
