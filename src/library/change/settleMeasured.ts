import type { StoredReading } from '@/contract/entry';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import type { Measurement } from '@/core/measurement/schema';
import type { Reading } from '@/core/readings/reading';
import type { ChangeSet } from './changeSet';
import { worthKeeping } from '../samples/measuredAnew';
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
 * measurements only add readings), and lets a set that it belongs to choose its speakers again.
 */
export function settleMeasured(
  changeSet: ChangeSet,
  { sampleId, measurement, readings, setId, parted }: Measured,
): void {
  changeSet.supersede(sampleId, 'detector');
  changeSet.supersede(sampleId, 'newer measurement');
  changeSet.supersede(sampleId, 'embedded tag');
  const stored = changeSet.read(sampleId, readings);
  const { current, byCurator } = changeSet.sample(sampleId);
  if (!byCurator)
    changeSet.revise(
      sampleId,
      settledFrom(measurement, stored),
      current === null ? 'measured' : 'measured again',
    );
  for (const set of changeSet.sets()) {
    if (!set.members.includes(sampleId)) continue;
    // A stem that comes later is fitted in: it takes the start, grid and key of its set.
    if (set.state === 'joined') join(changeSet, set);
    else if (set.setId === setId) {
      const now = ranked(changeSet, set);
      changeSet.writeStemSet(now);
      tell(changeSet, now);
    }
  }
  tellAnew(changeSet, parted);
}

/** What a newer engine measures of a sample that is settled. */
export interface Compared {
  sampleId: string;
  readings: readonly Reading[];
}

/** Keeps what a newer engine measures otherwise beside what is settled, which stays. */
export function keepCompared(changeSet: ChangeSet, { sampleId, readings }: Compared): void {
  changeSet.supersede(sampleId, 'newer measurement');
  changeSet.read(sampleId, worthKeeping(readings, changeSet.state(sampleId)));
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
    // Without a time signature there are no bars that could be settled.
    grid: measured.meter ? measuredGrid(measured) : EMPTY_STATE.grid,
    key: key?.property === 'key' ? key.value : null,
    tuningCents: measured.tuningCents === null ? null : Math.max(-50, Math.min(50, measured.tuningCents)),
    chosen,
  };
}
