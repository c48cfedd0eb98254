import type { StoredReading } from '@/contract/entry';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import type { Measurement } from '@/core/measurement/schema';
import type { Reading } from '@/core/readings/reading';
import type { Draft } from './draft';
import { join, ranked, tell, tellAnew } from './sets';

/** What measuring found of one sample that is settled, or told to others. */
export interface Measured {
  sampleId: string;
  measurement: Measurement;
  /** The detector's readings and those of embedded tags. */
  readings: readonly Reading[];
  /** The stem set that it was found to belong to, proposed or joined; null for none. */
  setId: string | null;
  /** Sets that have lost stems to that one. */
  parted: readonly string[];
}

/**
 * Settles what was measured as long as no curator has settled anything (a choice is never overwritten: later
 * measurements only add readings), and lets a set that it belongs to choose its speakers anew.
 */
export function settleMeasured(
  draft: Draft,
  { sampleId, measurement, readings, setId, parted }: Measured,
): void {
  draft.supersede(sampleId, 'detector');
  draft.supersede(sampleId, 'embedded tag');
  const stored = draft.read(sampleId, readings);
  const { current, byCurator } = draft.sample(sampleId);
  if (!byCurator)
    draft.revise(
      sampleId,
      settledFrom(measurement, stored),
      current === null ? 'measured' : 'measured again',
    );
  for (const set of draft.sets()) {
    if (!set.members.includes(sampleId)) continue;
    // A stem that comes later is fitted in: it takes the start, grid and key of its set.
    if (set.state === 'joined') join(draft, set);
    else if (set.setId === setId) {
      const now = ranked(draft, set);
      draft.changeSet(now);
      tell(draft, now);
    }
  }
  tellAnew(draft, parted);
}

/** The detector's first choices as what is settled. */
function settledFrom(measured: Measurement, readings: readonly StoredReading[]): Partial<SettledState> {
  const first = (property: StoredReading['property']) =>
    readings.find(
      (reading) => reading.property === property && reading.source === 'detector' && reading.rank === 0,
    );
  const chosen = Object.fromEntries(
    (['tempo', 'one', 'meter', 'key', 'tuning'] as const).flatMap((property) => {
      const reading = first(property);
      return reading ? [[property, reading.readingId]] : [];
    }),
  );
  const key = first('key');
  return {
    // Without a meter there are no bars that could be settled.
    grid: measured.meter ? measuredGrid(measured) : EMPTY_STATE.grid,
    key: key?.property === 'key' ? key.value : null,
    tuningCents: measured.tuningCents === null ? null : Math.max(-50, Math.min(50, measured.tuningCents)),
    chosen,
  };
}
