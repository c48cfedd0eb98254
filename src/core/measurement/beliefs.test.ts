import type { BarChoice, RhythmHypothesis } from '../rhythm/hypotheses';
import { believed, believedAlone, believedTempi, hasDownbeatAt, nearest } from './beliefs';

const SIZE = 4;
/** Sixteen seconds of beats from `first` on; beliefs in the four places of the one. */
function lattice(bpm: number, first: number, sureness: number, beliefs: number[]): RhythmHypothesis {
  const bars = beliefs
    .map((belief, phase): BarChoice => ({
      beatsPerBar: SIZE,
      phase,
      belief,
      spans: [],
      observed: new Float64Array(0),
      score: Math.log(belief),
    }))
    .sort((a, b) => b.score - a.score);
  const count = Math.floor(((16 - first) * bpm) / 60);
  return {
    bpm,
    beats: Float64Array.from({ length: count }, (_, k) => first + (k * 60) / bpm),
    steady: true,
    origin: 'hits',
    salience: 1,
    fit: null,
    bar: bars[0],
    bars,
    observed: new Float64Array(0),
    score: Math.log(sureness),
    fromLibrary: 0,
    sureness,
  } as RhythmHypothesis;
}

test('tempi gather what is believed of them, the most believed first', () => {
  const all = [
    lattice(60, 0, 0.4, [1, 0, 0, 0]),
    lattice(120, 0, 0.35, [1, 0, 0, 0]),
    lattice(120.3, 0, 0.25, [1, 0, 0, 0]),
  ];
  const tempi = believedTempi(all);
  expect(tempi.map(({ sureness }) => sureness)).toEqual([0.6, 0.4]);
  expect(tempi[0].best).toBe(all[1]);
});

test('belief in whatever holds is summed over beats and bars', () => {
  const all = [lattice(120, 0, 0.6, [0.5, 0.3, 0.1, 0.1]), lattice(120, 0.25, 0.4, [1, 0, 0, 0])];
  expect(believed(all, () => true)).toBeCloseTo(1, 9);
  expect(believed(all, ({ beats }, bar) => hasDownbeatAt(beats, bar, 2))).toBeCloseTo(0.3, 9);
  expect(believed(all, ({ beats }, bar) => hasDownbeatAt(beats, bar, 2.25))).toBeCloseTo(0.4, 9);
});

test('the nearest of several times', () => {
  expect([0.2, 0.6, 5, -3].map((time) => nearest([0, 1, 2], time))).toEqual([0, 1, 2, 0]);
});

test('what would be believed without the library is told from what is', () => {
  const one = (bpm: number, sureness: number, fromLibrary = 0) => ({
    ...lattice(bpm, 0, sureness, [1]),
    fromLibrary,
  });
  // The single best explanation is not of the tempo that all together speak for: no library had a say in that.
  const silent = [one(120, 0.4), one(80, 0.3), one(80.1, 0.3)];
  expect(believedTempi(silent)[0].best.bpm).toBe(80);
  expect(believedAlone(silent)).toBe(80);
  const told = [one(60, 0.6, 2), one(120, 0.4, -1)];
  expect(believedTempi(told)[0].best.bpm).toBe(60);
  expect(believedAlone(told)).toBe(120);
});
