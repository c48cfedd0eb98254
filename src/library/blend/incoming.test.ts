import { emptyBlend, type Blend } from '@/contract/blend';
import { comesIn, takenFrom } from './incoming';
import { ordered } from './orders';
import type { LaneFacts } from './parts';

const meter = { beatsPerBar: 4, beatUnit: 4 };
const facts = (
  tempoBpm: number | null,
  tonic: number | null,
  more: Partial<LaneFacts['settled']> = {},
): LaneFacts => ({
  settled: {
    ...{ kind: 'loop', durationSeconds: 8, loop: null, hits: [], isVoice: false },
    grid: tempoBpm === null ? null : { tempoBpm, one: 0, meter, movingBeats: null },
    ...more,
  },
  fittable: {
    ...{
      kind: more.kind ?? 'loop',
      tempoBpm,
      bars: 4,
      beatsPerBar: 4,
      tuningCents: 0,
      isUnpitched: tonic === null,
    },
    key: tonic === null ? null : { tonic, mode: 'minor' },
  },
});
const incoming = (n: number, of: LaneFacts) => ({
  ...{ sampleId: `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`, name: `Sample ${n}`, facts: of },
});
const put = (blend: Blend, n: number, of: LaneFacts) =>
  ordered(blend, comesIn(blend, incoming(n, of), `lane ${n}`));

test('the first sets tempo, key and time signature, and leads; later ones are fitted', () => {
  const first = put(emptyBlend('x'), 1, facts(96, 2));
  expect(first).toMatchObject({ tempoBpm: 96, key: { tonic: 2 }, lead: 'lane 1', meter });
  const second = put(first, 2, facts(118, 11));
  expect(second).toMatchObject({ tempoBpm: 96, key: { tonic: 2 }, lead: 'lane 1' });
  expect(second.lanes.map(({ times }) => times)).toEqual([null, null]);
});

test('drums set no key: the first with a pitch does', () => {
  const drums = put(emptyBlend('x'), 1, facts(96, null));
  expect(drums).toMatchObject({ tempoBpm: 96, key: null, lead: 'lane 1' });
  expect(put(drums, 2, facts(110, 9))).toMatchObject({ tempoBpm: 96, key: { tonic: 9 }, lead: 'lane 1' });
});

test('by other customs the tempo stays, or the newcomer’s is taken', () => {
  const stays: Blend = { ...emptyBlend('x'), custom: 'the tempo stays', tempoBpm: 100 };
  expect(put(stays, 1, facts(96, 2))).toMatchObject({ tempoBpm: 100, lead: null });
  const taken: Blend = { ...put(emptyBlend('x'), 1, facts(96, 2)), custom: 'the newcomer’s is taken' };
  expect(put(taken, 2, facts(118, 11))).toMatchObject({ tempoBpm: 118, key: { tonic: 11 }, lead: 'lane 2' });
});

test('what has no tempo neither leads nor sets anything, and is heard once', () => {
  const spoken = put(emptyBlend('x'), 1, facts(null, null, { kind: 'song' }));
  expect(spoken).toMatchObject({ tempoBpm: null, lead: null });
  expect(spoken.lanes[0]).toMatchObject({ times: 1, held: 'bars' });
  const struck = put(emptyBlend('x'), 2, facts(null, 3, { kind: 'oneshot' }));
  expect(struck).toMatchObject({ tempoBpm: null, key: null, lead: null });
});

test('a lead that moves brings its movement along; a tempo beyond all bounds is not taken', () => {
  const grid = { tempoBpm: 96, one: 0.2, meter, movingBeats: [0.2, 0.8, 1.45] };
  expect(takenFrom(facts(96, 2, { grid }))?.movement).toEqual(grid);
  expect(takenFrom(facts(900, 2))).toBeNull();
});
