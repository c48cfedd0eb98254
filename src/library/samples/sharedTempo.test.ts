import { sharedTempo } from './sharedTempo';

const of = (...tempi: [bpm: number, sureness: number][]) =>
  sharedTempo(tempi.map(([bpm, sureness]) => ({ bpm, sureness })));

test('the tempo that most agree on is theirs, weighed by how sure they are', () => {
  const shared = of([92, 0.9], [92.01, 0.8], [91.99, 0.9], [184, 0.6], [184, 0.5]);
  expect(shared!.bpm).toBeCloseTo(92, 1);
  expect(shared!.sureness).toBeCloseTo(2.6 / 3.7, 2);
  expect(of([92, 0.2], [92, 0.2], [92, 0.2], [184, 0.9], [184, 0.9], [184, 0.9])!.bpm).toBeCloseTo(184, 3);
});

test('too few, or too many tempi, share none', () => {
  expect(of()).toBeNull();
  expect(of([92, 0.9], [92, 0.9])).toBeNull();
  expect(
    of([92, 0.9], [92, 0.9], [92, 0.9], [80, 0.9], [80, 0.9], [100, 0.9], [110, 0.9], [120, 0.9]),
  ).toBeNull();
});
