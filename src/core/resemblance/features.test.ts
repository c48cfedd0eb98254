import { measureStream } from '../measurement/measureStream';
import type { Measurement } from '../measurement/schema';
import { PROPERTY_ROOM } from '@/demo/propertyRoom';
import { opening } from '../../../tests/support/bytes';
import { featuresOf, togetherOf, type Features } from './features';

const NAMES = [
  'Cellar Steps',
  'Rattling Cart',
  'Galley Slaves',
  'Wooden Shoes',
  'Giant’s Walk',
  'Under the Stage',
  'Painted Sky',
  'Three Lanterns',
  'Little Acrobat',
  'Chambermaid Hums',
];
const found = new Map<string, Features>();
let lastMeasured: Measurement;

beforeAll(async () => {
  for (const name of NAMES) {
    const file = PROPERTY_ROOM.find((one) => one.name === `${name}.wav`)!;
    lastMeasured = (await measureStream(opening(file.make(), 65_536))).measurement;
    found.set(name, featuresOf(lastMeasured, file.settled.grid ?? null)!);
  }
}, 60_000);

const apart = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.map((value, i) => value - b[i]));
const nearest = (name: string, by: (features: Features) => number[]) =>
  NAMES.filter((other) => other !== name).sort(
    (a, b) => apart(by(found.get(a)!), by(found.get(name)!)) - apart(by(found.get(b)!), by(found.get(name)!)),
  );

test('drums are like drums, a bass like the other bass', () => {
  expect(['Cellar Steps', 'Rattling Cart', 'Galley Slaves', 'Wooden Shoes']).toContain(
    nearest('Cellar Steps', togetherOf)[0],
  );
  expect(nearest('Giant’s Walk', ({ sound }) => sound)[0]).toBe('Under the Stage');
});

test('every feature is a finite number, and small, so that none outweighs the others', () => {
  for (const features of found.values())
    for (const value of togetherOf(features)) expect(Math.abs(value)).toBeLessThan(2.5);
});

test('a rhythm is the same at any tempo and in any place of the file', () => {
  const at = (tempoBpm: number, one: number) => {
    const beat = 60 / tempoBpm;
    const onsets = [0, 1.5, 2, 3, 4, 5.5, 6, 7].map((place) => ({ time: one + place * beat, strength: 20 }));
    const grid = { tempoBpm, one, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
    return featuresOf({ ...lastMeasured, onsets }, grid)!.rhythm;
  };
  at(88.402, 0.31).forEach((value, i) => expect(value).toBeCloseTo(at(164, 2)[i], 3));
  expect(apart(at(100, 0), at(100, 0.3))).toBeLessThan(1e-3);
});

test('harmony is the same in any key', () => {
  const chroma = [0.3, 0, 0.05, 0, 0.25, 0.05, 0, 0.25, 0, 0.05, 0, 0.05];
  const turned = chroma.map((_, pitch) => chroma[(pitch + 7) % 12]);
  const at = (of: number[] | null) => featuresOf({ ...lastMeasured, chroma: of }, null)!.harmony;
  at(chroma).forEach((value, i) => expect(value).toBeCloseTo(at(turned)[i], 3));
  expect(at(null)).toEqual([0, 0, 0, 0, 0, 0]);
});

test('before anything is measured there is none', () => {
  expect(featuresOf(null, null)).toBeNull();
});
