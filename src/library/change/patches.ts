import { barsOf } from '../samples/barsOf';
import { settleReadings, withItsGrid } from '../samples/applyReading';
import type { StoredReading } from '@/contract/entry';
import { nameFromTemplate } from '../samples/nameTemplate';
import { isToneless } from '../samples/toneless';
import type { NewReading, Order } from '@/contract/orders';
import { MOST_TAGS, type SettledState } from '@/contract/settled';
import { scalePinned } from '@/core/rhythm/pins';
import type { ChangeSet } from './changeSet';
import { RefusedChange } from './refusal';

/** Orders that settle something else, as a step of a sample's history. */
export type PatchOrder = Extract<
  Order,
  { do: 'settle' | 'accept' | 'scale' | 'choose' | 'tags' | 'rename' | 'kind' | 'write' }
>;

/** What becomes of a sample's settled state; null when nothing does. Throws RefusedChange when it cannot be done. */
export function patchFor(
  changeSet: ChangeSet,
  sampleId: string,
  order: PatchOrder,
): Partial<SettledState> | null {
  const sample = changeSet.sample(sampleId);
  const state = changeSet.state(sampleId);
  switch (order.do) {
    case 'settle': {
      if (!order.reading) return order.patch;
      const { readingId } = recorded(changeSet, sampleId, order.reading);
      const chosen = { ...(order.patch.chosen ?? state.chosen), [order.reading.property]: readingId };
      return { ...order.patch, chosen };
    }
    case 'accept': {
      if (sample.fault) throw new RefusedChange({ code: 'cannot be read' });
      // What is settled was looked at beside the newer measurement, and stays.
      if (order.above === null) changeSet.supersede(sampleId, 'newer measurement');
      if (state.accepted) return null;
      const sureness = sample.measurement?.tempo?.sureness ?? sample.measurement?.key?.sureness ?? 0;
      return order.above !== null && sureness < order.above ? null : { accepted: true };
    }
    case 'scale': {
      const { grid, pins } = state;
      if (!grid) throw new RefusedChange({ code: 'no tempo' });
      const tempoBpm = grid.tempoBpm * order.ratio;
      if (tempoBpm < 10 || tempoBpm > 1000)
        throw new RefusedChange({ code: 'impossible tempo', bpm: tempoBpm });
      const next = scalePinned({ grid, pins }, order.ratio);
      const [reading] = changeSet.read(sampleId, [
        {
          property: 'tempo',
          value: next.grid.tempoBpm,
          source: 'typed',
          sureness: 0.9,
          detail: `tempo × ${order.ratio}`,
        },
      ]);
      return { grid: next.grid, pins: [...next.pins], chosen: { ...state.chosen, tempo: reading.readingId } };
    }
    case 'choose': {
      const readings = sample.readings.filter(({ superseded }) => !superseded);
      const wanted = readings.filter(
        ({ source, property, rank }) =>
          source === order.source && rank === 0 && (property === 'tempo' || property === 'key'),
      );
      if (wanted.length === 0) throw new RefusedChange({ code: 'no such source', source: order.source });
      const whole = wanted.flatMap((reading) => withItsGrid(reading, readings));
      return settleReadings(state, whole, sample.measurement);
    }
    case 'tags': {
      const same = (a: SettledState['tags'][number]) => (b: SettledState['tags'][number]) =>
        a.facet === b.facet && a.value === b.value;
      const kept = state.tags.filter((tag) => !order.remove.some(same(tag)));
      const tags = [...kept, ...order.add.filter((tag) => !kept.some(same(tag)))];
      if (tags.length > MOST_TAGS) throw new RefusedChange({ code: 'too many tags', most: MOST_TAGS });
      return JSON.stringify(tags) === JSON.stringify(state.tags) ? null : { tags };
    }
    case 'rename': {
      const present = state.title ?? sample.arrivedAs;
      const key = state.key && 'tonic' in state.key ? state.key : null;
      const { name, fault } = nameFromTemplate(order.template, {
        name: present,
        folder: sample.folder,
        kind: state.kind ?? sample.kind,
        tempoBpm: state.grid?.tempoBpm ?? null,
        beatsPerBar: state.grid?.meter.beatsPerBar ?? null,
        beatUnit: state.grid?.meter.beatUnit ?? null,
        bars: barsOf(state.grid, sample.measurement, sample.durationSeconds),
        keyTonic: key?.tonic ?? null,
        keyMode: key?.mode ?? null,
        tags: state.tags,
        toneless: isToneless({ ...sample, state }),
      });
      if (fault) throw new RefusedChange({ code: 'name', fault });
      return name === present ? null : { title: name };
    }
    case 'write':
      return Object.entries(order.patch).some(([name, value]) => state[name as 'note'] !== value)
        ? order.patch
        : null;
    case 'kind':
      return state.kind === order.kind ? null : { kind: order.kind };
  }
}

/** The reading that a change rests on: the same value from the same source again is no news. */
function recorded(changeSet: ChangeSet, sampleId: string, reading: NewReading): StoredReading {
  const known = changeSet
    .sample(sampleId)
    .readings.find(
      (one) =>
        one.property === reading.property &&
        one.source === reading.source &&
        !one.superseded &&
        JSON.stringify(one.value) === JSON.stringify(reading.value),
    );
  return known ?? changeSet.read(sampleId, [reading])[0];
}
