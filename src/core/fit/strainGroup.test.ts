import { randomFrom } from '@/demo/random';
import { ALL_KEYS } from '../harmony/keyNames';
import { sampleKind } from '../measurement/schema';
import { proposalFor, type Fittable, type Target } from './proposal';
import { sampleOfStrainGroup, strainGroupOf, strainsAt } from './strainGroup';

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
  for (let round = 0; round < 200; round++) {
    const target = drawnTarget();
    const strainAt = strainsAt(target);
    for (let i = 0; i < 50; i++) {
      const sample = drawn();
      const group = strainGroupOf(sample);
      const strain = strainAt(group, sample.isUnpitched);
      const stands = { ...sampleOfStrainGroup(group), isUnpitched: sample.isUnpitched };
      expect(strain).toBeCloseTo(proposalFor(stands, target).strain, 9);
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
  const all = { kind: 'loop', bars: 6, beatsPerBar: 1, key: ALL_KEYS[23], tuningCents: null } as const;
  for (const tempoBpm of [0.5, 10, 1000, 50_000]) {
    const group = strainGroupOf({ ...all, tempoBpm });
    expect(Number.isInteger(group) && group > 0 && group < 2 ** 31).toBe(true);
  }
  expect(strainGroupOf({ ...all, kind: null, tempoBpm: null, key: null })).toBe(0);
});
