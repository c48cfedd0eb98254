import type { SettledState } from '@/contract/settled';
import type { Measurement } from '@/core/measurement/schema';
import type { Property, Reading, ReadingValue } from '@/core/readings/reading';

/** A stem that speaks for its set: what is settled on it, and how sure that is. */
export interface SpeakingStem {
  name: string;
  state: Pick<SettledState, 'grid' | 'key' | 'tuningCents' | 'accepted'>;
  measurement: Measurement | null;
  /** The confidence of what is settled, where a reading was chosen for it, 0 … 1. */
  chosen: Partial<Record<Property, number>>;
}

/** What the stem with the clearest rhythm tells the others of its set: tempo, the one and time signature; nothing without a grid. */
export function gridReadings(stem: SpeakingStem): Reading[] {
  const { grid } = stem.state;
  if (!grid) return [];
  return [
    told(stem, { property: 'tempo', value: grid.tempoBpm }, stem.measurement?.tempo?.sureness),
    told(stem, { property: 'one', value: grid.one }, stem.measurement?.theOneSureness),
    told(stem, { property: 'meter', value: grid.meter }, stem.measurement?.meter?.sureness),
  ];
}

/** What the stem with the clearest tones tells the others of its set: key and tuning; nothing where it has no key. */
export function keyReadings(stem: SpeakingStem): Reading[] {
  const { key, tuningCents } = stem.state;
  if (!key || 'none' in key) return [];
  const sureness = stem.measurement?.key?.sureness;
  const readings = [told(stem, { property: 'key', value: key }, sureness)];
  if (tuningCents !== null) readings.push(told(stem, { property: 'tuning', value: tuningCents }, sureness));
  return readings;
}

/** Who has accepted a stem is sure of it; otherwise it is as sure as the reading that was chosen, or the measurement. */
function told(stem: SpeakingStem, value: ReadingValue, measured: number | null | undefined): Reading {
  const sureness = stem.state.accepted ? 1 : (stem.chosen[value.property] ?? measured ?? 0);
  return { ...value, source: 'stem set', sureness, detail: `of “${stem.name}”` };
}
