import { lessSure, lostShare } from './lessSure';
import type { Measurement } from './schema';

const whole = { frames: 480_000, sampleRate: 48_000 };

test.each<[string, Parameters<typeof lostShare>, number]>([
  ['nothing is lost', [whole, null], 0],
  ['it is as long as it says', [whole, 10], 0],
  ['it is longer than it says', [whole, 8], 0],
  [
    '2.5 of 10 s are silence',
    [
      {
        ...whole,
        lost: [
          { from: 1, seconds: 2 },
          { from: 8, seconds: 0.5 },
        ],
      },
      null,
    ],
    0.25,
  ],
  ['10 of 40 s are there', [whole, 40], 0.75],
  ['nothing is there at all', [{ frames: 0, sampleRate: 48_000 }, 5], 1],
])('%s', (_, [summary, claimed], share) => {
  expect(lostShare(summary, claimed)).toBeCloseTo(share, 9);
});

test('by a quarter that is lost everything is half as sure, by more not less; by nothing it stays as it is', () => {
  const measured = (): Measurement =>
    ({
      kindSureness: 0.8,
      theOneSureness: 0.6,
      tempo: { sureness: 0.9 },
      meter: { sureness: 1 },
      key: null,
      loop: { sureness: 0.4 },
    }) as unknown as Measurement;
  const after = (share: number) => {
    const one = measured();
    lessSure(one, share);
    return [
      one.kindSureness,
      one.theOneSureness,
      one.tempo!.sureness,
      one.meter!.sureness,
      one.loop!.sureness,
    ];
  };
  const all = [0.8, 0.6, 0.9, 1, 0.4];
  expect(after(0)).toEqual(all);
  for (const share of [0.25, 0.9])
    after(share).forEach((value, i) => expect(value).toBeCloseTo(all[i] / 2, 9));
  after(0.125).forEach((value, i) => expect(value).toBeCloseTo(all[i] * 0.75, 9));
});
