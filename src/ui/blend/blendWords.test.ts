import type { LaneFacts } from '@/library/blend/parts';
import { rhythmAndMelody } from '@/library/blend/roles';
import { ordered } from '@/library/blend/orders';
import { scoreOf } from '@/library/blend/score';
import { emptyBlend, newLane, type Blend, type LaneInput } from '@/contract/blend';
import { keyBecomes, laneSentence, movesWords, roleOf, tempoBecomes } from './blendWords';
import { nextLaneId, penOf, triedLaneId } from './pens';

const meter = { beatsPerBar: 4, beatUnit: 4 };
const ID = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const loop = (tempoBpm: number, tonic: number | null): LaneFacts => ({
  settled: {
    ...{ kind: 'loop', durationSeconds: 960 / tempoBpm, loop: null, hits: [], isVoice: false },
    grid: { tempoBpm, one: 0, meter, movingBeats: null },
  },
  fittable: {
    ...{ kind: 'loop', tempoBpm, bars: 4, beatsPerBar: 4, tuningCents: 0, isUnpitched: tonic === null },
    key: tonic === null ? null : { tonic, mode: 'minor' },
  },
});
const lane = (n: number, more: Partial<LaneInput> = {}) =>
  newLane({ laneId: `${n}-a`, sampleId: ID(n), name: `Sample ${n}`, times: null, ...more });

const facts = new Map([
  [ID(1), loop(96, 2)],
  [ID(2), loop(118, 11)],
  [ID(3), loop(90, null)],
]);
const blend: Blend = {
  ...emptyBlend('Rain'),
  ...{ tempoBpm: 96, key: { tonic: 2, mode: 'minor' }, lead: '1-a' },
  lanes: [lane(1), lane(2), lane(3, { held: 'time', atSeconds: 5, times: 1 }), lane(9)],
};
const score = scoreOf(blend, facts);
const [lead, fitted, held, lost] = score.lanes;

test('a head says what its lane is and what becomes of it', () => {
  expect(score.lanes.map((one) => roleOf(one, blend))).toEqual(['lead', 'fitted', 'in seconds', 'silent']);
  expect(tempoBecomes(lead, loop(96, 2), 96)).toBe('96');
  expect(tempoBecomes(fitted, loop(118, 11), 96)).toBe('118 → 96 BPM (−18.6 %)');
  expect(keyBecomes(fitted, loop(118, 11))).toBe('B minor → D minor +3');
  expect(keyBecomes(held, loop(90, null))).toBeNull();
  expect(laneSentence(fitted, loop(118, 11), blend)).toContain('repeats after 16 beats');
  expect(laneSentence(lost, null, blend)).toContain('not measured yet');
});

test('what another tempo moves is said: what follows, and where stands what does not', () => {
  expect(movesWords(score, 120)).toBe(
    '2 lanes follow the bars: 96 → 120 BPM (+25 %); “Sample 3” keeps its time and moves from bar 3.0 to 3.5',
  );
});

test('each lane has a pen of its own, and keeps it', () => {
  expect(blend.lanes.map(penOf)).toEqual([0, 1, 2, 8]);
  expect(penOf({ laneId: nextLaneId(blend) })).toBe(3);
  expect(penOf({ laneId: triedLaneId(blend) })).toBe(3);
  expect(nextLaneId(blend)).not.toBe(nextLaneId(blend));
});

test('rhythm of one, melody of another: in one order, the others behind', () => {
  const { lanes } = ordered(blend, rhythmAndMelody(blend, '1-a', '2-a'));
  expect(lanes[1]).toMatchObject({ feel: { of: '1-a', share: 1 }, levelDb: 0 });
  expect(lanes[0]).toMatchObject({ feel: null, levelDb: 0 });
  expect(lanes[2].levelDb).toBe(-9);
});
