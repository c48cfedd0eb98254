import { randomFrom } from '@/demo/random';
import { ALL_KEYS } from '../harmony/keyNames';
import { sampleKind } from '../measurement/schema';
import { proposalFor, type Fittable, type Target } from './proposal';
import { groupsWithin, repitchedGroup, sampleOfStrainGroup, strainGroupOf, strainsAt } from './strainGroup';

const random = randomFrom(11);
const any = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)];
const orNone = <T>(value: T): T | null => (random() < 0.15 ? null : value);
const drawn = (): Fittable => ({
  kind: any(sampleKind.options),
  tempoBpm: orNone(20 + 280 * random()),
  bars: orNone(1 + Math.floor(12 * random())),
  beatsPerBar: orNone(any([2, 3, 4, 5, 7])),
  key: orNone(any(ALL_KEYS)),
  tuningCents: null,
  isUnpitched: random() < 0.2,
});
const drawnTarget = (): Target => ({
  tempoBpm: orNone(50 + 150 * random()),
  key: orNone(any(ALL_KEYS)),
  isTape: random() < 0.3,
});

test('a group is strained as each of its samples is, to a step of tempo', () => {
  // Half a step, and what longer costs more.
  const step = (Math.log(2) / 800 / Math.log(1.5)) * 1.15 + 1e-9;
  for (let round = 0; round < 30; round++) {
    const target = drawnTarget();
    const strainAt = strainsAt(target);
    for (let i = 0; i < 50; i++) {
      const sample = drawn();
      const group = strainGroupOf(sample);
      const strain = strainAt(group);
      const stands = sampleOfStrainGroup(group);
      expect(Math.abs(strain - proposalFor(stands, target).strain)).toBeLessThan(5.001e-7);
      // Within half a step another level may be taken, or none any more.
      const within = [-1, 0, 1].map((steps) => {
        const tempoBpm = sample.tempoBpm && sample.tempoBpm * 2 ** (steps / 800);
        return Math.abs(proposalFor({ ...sample, tempoBpm }, target).strain - strain);
      });
      expect(Math.min(...within)).toBeLessThan(step);
      expect(strainGroupOf(stands)).toBe(group);
    }
  }
});
test('a group fits a whole number of four bytes at any tempo', () => {
  const all = {
    ...drawn(),
    kind: 'loop',
    bars: 6,
    beatsPerBar: 1,
    key: ALL_KEYS[23],
    isUnpitched: false,
  } as const;
  for (const tempoBpm of [0.5, 10, 1000, 50_000]) {
    const group = strainGroupOf({ ...all, tempoBpm });
    expect(Number.isInteger(group) && group > 0 && group < 2 ** 31).toBe(true);
  }
  expect(strainGroupOf({ ...all, kind: null, tempoBpm: null, key: null })).toBe(0);
});

test('what is tagged as drums has the group of what has no key, and gets its own back', () => {
  for (let i = 0; i < 200; i++) {
    const sample = drawn();
    const other = { ...sample, isUnpitched: !sample.isUnpitched };
    expect(repitchedGroup(strainGroupOf(sample), other)).toBe(strainGroupOf(other));
  }
});

test('within a strain there are all groups that are strained no more, in order', () => {
  const groups = new Set(Array.from({ length: 3_000 }, () => strainGroupOf(drawn())));
  for (let round = 0; round < 16; round++) {
    const target = drawnTarget();
    const strainAt = strainsAt(target);
    const most = any([0.005, 0.02, 0.06, 0.3]);
    const ranges = groupsWithin(target, most);
    expect(ranges.every(({ strain }, i) => i === 0 || strain >= ranges[i - 1].strain)).toBe(true);
    const single = new Map(ranges.map((one) => [one.from, one]));
    const wide = ranges.filter(({ from, to }) => to - from > 1);
    const within = (group: number) =>
      single.get(group) ?? wide.find(({ from, to }) => group >= from && group < to);
    for (const group of groups) {
      const strain = strainAt(group);
      const range = within(group);
      if (strain <= most !== (range !== undefined) || (range && range.strain !== strain))
        throw new Error(`group ${group} at ${JSON.stringify(target)}: ${strain}`);
    }
    expect(single.size).toBe(ranges.length);
  }
});
