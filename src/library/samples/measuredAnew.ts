import { keyLabel } from '@/core/harmony/keyNames';
import type { Reading } from '@/core/readings/reading';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { barTime, beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Doubt } from '@/contract/doubt';
import type { SettledState } from '@/contract/settled';

/** Ones that lie nearer to each other are the same. */
const SAME_ONE_SECONDS = 0.03;
/** It waits for whoever looks after an upgrade, and says little of one sample by itself. */
const WEIGHT = 0.1;

type Settled = Pick<SettledState, 'grid' | 'key'>;

/** Where a newer engine's first choices are not what is settled, as what waits to be looked at. */
export function measuredAnew(readings: readonly Reading[], { grid, key }: Settled): Doubt[] {
  const told: Doubt[] = [];
  // Bars of another tempo are others anyway.
  let isOtherTempo = false;
  for (const reading of readings) {
    if (reading.source !== 'newer measurement') continue;
    const sureness = reading.sureness;
    switch (reading.property) {
      case 'tempo': {
        isOtherTempo = !grid || !tempoRelation(reading.value, grid.tempoBpm).agrees;
        if (!isOtherTempo) break;
        told.push({
          ...{ code: 'newer tempo', saysBpm: reading.value, bpm: grid?.tempoBpm ?? null, sureness },
          weight: WEIGHT,
        });
        break;
      }
      case 'meter': {
        const { beatsPerBar, beatUnit } = reading.value;
        if (isOtherTempo) break;
        if (grid && grid.meter.beatsPerBar === beatsPerBar && grid.meter.beatUnit === beatUnit) break;
        told.push({ code: 'newer meter', says: reading.value, sureness, weight: WEIGHT });
        break;
      }
      case 'one': {
        if (!grid || isOtherTempo) break;
        const bar = Math.round(beatPosition(grid, reading.value) / feltBeatsPerBar(grid.meter));
        const apart = reading.value - barTime(grid, bar + 1);
        if (Math.abs(apart) > SAME_ONE_SECONDS)
          told.push({ code: 'newer one', apartMs: 1000 * apart, sureness, weight: WEIGHT });
        break;
      }
      case 'key': {
        const says = 'none' in reading.value ? null : reading.value;
        const settled = key && 'tonic' in key ? key : null;
        if ((says && keyLabel(says)) === (settled && keyLabel(settled))) break;
        told.push({ code: 'newer key', says, key: settled, sureness, weight: WEIGHT });
        break;
      }
      case 'tuning':
    }
  }
  return told;
}

/** Of a newer measurement's readings, tempo first, the first choices; none where they all say what is settled. */
export function worthKeeping(readings: readonly Reading[], settled: Settled): Reading[] {
  const seen = new Set<string>();
  const first = readings
    .filter(({ property }) => property !== 'tuning' && !seen.has(property) && seen.add(property))
    .map((reading): Reading => ({ ...reading, source: 'newer measurement' }));
  const properties = new Set(measuredAnew(first, settled).map(({ code }) => PROPERTY[code]));
  // Another tempo is taken together with its bars.
  const wanted = properties.has('tempo') ? new Set([...properties, 'one', 'meter']) : properties;
  return first.filter(({ property }) => wanted.has(property));
}

const PROPERTY: Partial<Record<Doubt['code'], Reading['property']>> = {
  'newer tempo': 'tempo',
  'newer meter': 'meter',
  'newer one': 'one',
  'newer key': 'key',
};
