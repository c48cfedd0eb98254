import { explainRhythm } from '@/core/measurement/measure';
import { BARS } from '@/core/rhythm/bars';
import { LEVELS } from '@/core/rhythm/hypotheses';
import { SPANS } from '@/core/rhythm/spans';
import { hearSamples } from './excerpts';
import { practicePiece } from './practice';
import {
  fitRhythm,
  judgeRhythm,
  namedRhythm,
  observeRhythm,
  RHYTHM_SETTINGS,
  waysThrough,
  type RhythmItem,
} from './rhythmWeights';
import type { Origin, Truth } from './truth';

async function itemOf(seed: number, origin: Origin = 'recording', change: Partial<Truth> = {}) {
  const { truth, samples } = practicePiece(seed);
  const hypotheses = explainRhythm(await hearSamples(samples));
  return { item: observeRhythm({ ...truth, ...change }, hypotheses, origin), truth, hypotheses };
}

/** Seeds of practice loops whose truth is among the explanations. */
const LOOPS = [2, 3, 9, 10, 12, 17];
const loops = await Promise.all(LOOPS.map((seed) => itemOf(seed)));

test('a level is right where tempo and place are, a bar where it begins on the one, a span between the bounds', () => {
  for (const { item, truth, hypotheses } of loops) {
    const tempi = [truth.bpm!, ...(truth.bpmAlt ?? [])];
    item.levels.forEach((level, l) => {
      const { bpm, beats, bars } = hypotheses[l];
      if (level.right)
        expect(Math.min(...tempi.map((tempo) => Math.abs(bpm / tempo - 1)))).toBeLessThan(0.04);
      level.bars.forEach((bar, b) => {
        if (!bar.right) return expect(bar.spans).not.toContain(true);
        expect(level.right).toBe(true);
        const line = beats[bars[b].phase];
        const barSeconds = (60 / bpm) * bars[b].beatsPerBar;
        const off = (line - truth.downbeats![0]) / barSeconds;
        expect(Math.abs(off - Math.round(off)) * barSeconds).toBeLessThan(0.08);
        bar.spans.forEach((right, s) => {
          if (!right) return;
          expect(Math.abs(bars[b].spans[s].start - truth.loopStart!)).toBeLessThan(0.04);
          expect(Math.abs(bars[b].spans[s].end - truth.loopEnd!)).toBeLessThan(0.04);
        });
      });
    });
  }
});

test('rows stand by their options: one a level, one a bar, one a span', () => {
  for (const { item } of loops) {
    const bars = item.levels.flatMap((level) => level.bars);
    const spans = bars.flatMap((bar) => bar.spans);
    expect(item.rows.levels).toHaveLength(item.levels.length * LEVELS.names.length);
    expect(item.rows.bars).toHaveLength(bars.length * BARS.names.length);
    expect(item.rows.spans).toHaveLength(spans.length * SPANS.names.length);
  }
});

describe('ways through level, bar and span', () => {
  const [{ item }] = loops;
  /** Options of each stage and what is right of each way. */
  const waysOf = (change: Partial<RhythmItem>) => {
    const { ways, right } = waysThrough({ ...item, ...change });
    return right.map((isRight, w) => ({ bar: ways[3 * w + 1], span: ways[3 * w + 2], isRight }));
  };
  const bars = item.levels.flatMap((level) => level.bars);

  test('take one span each, and every one once; the right ones are those between the bounds', () => {
    const ways = waysOf({}).filter(({ span }) => span >= 0);
    expect(ways.map(({ span }) => span)).toEqual([...ways.keys()]);
    expect(ways.filter(({ isRight }) => isRight)).toHaveLength(
      bars.flatMap(({ spans }) => spans).filter(Boolean).length,
    );
    expect(ways.some(({ isRight }) => isRight)).toBe(true);
  });

  test.each([
    ['whose bounds nobody knows', { hasSpan: false }],
    ['that is played freely', { free: true }],
  ])('end with the bars of a recording %s', (_, change) => {
    const ways = waysOf(change);
    expect(ways.map(({ bar }) => bar)).toEqual([...bars.keys()]);
    expect(ways.every(({ span }) => span === -1)).toBe(true);
    expect(ways.map(({ isRight }) => isRight)).toEqual(bars.map(({ right }) => right));
  });

  test('all lead to the right bar where its bounds are not among the spans', () => {
    const levels = item.levels.map((level) => ({
      ...level,
      bars: level.bars.map((bar) => ({ ...bar, spans: bar.spans.map(() => false) })),
    }));
    for (const { bar, isRight } of waysOf({ levels })) expect(isRight).toBe(bars[bar].right);
  });
});

test('of what is not a recording a sample of the wrong explanations is kept, and all that are right', async () => {
  const [{ item: all }, { item: sampled }] = await Promise.all([itemOf(2), itemOf(2, 'practice')]);
  const right = ({ levels }: RhythmItem) => levels.filter((level) => level.right).length;
  expect(right(sampled)).toBe(right(all));
  expect(sampled.levels.length).toBeLessThan(0.75 * all.levels.length);
});

describe('a fit', () => {
  const items = loops.map(({ item }) => item);
  const model = fitRhythm(items, undefined, 1);
  const verdicts = items.map((item) => judgeRhythm(item, model));

  test('finds level, bar and span of what it was fitted on', () => {
    expect(verdicts.filter(({ level }) => level).length).toBeGreaterThanOrEqual(5);
    expect(verdicts.filter(({ bar }) => bar).length).toBeGreaterThanOrEqual(5);
    expect(verdicts.filter(({ span }) => span).length).toBeGreaterThanOrEqual(4);
  });

  test('is surprised the more, the more has to be right', () => {
    for (const { surprise } of verdicts) {
      expect(surprise.level).toBeGreaterThanOrEqual(0);
      expect(surprise.bar!).toBeGreaterThanOrEqual(surprise.level! - 1e-9);
    }
  });

  test('of other things would find other things: what is right is learned, not built in', () => {
    const upsideDown = items.map((item) => ({
      ...item,
      levels: item.levels.map((level) => ({
        ...level,
        right: !level.right,
        bars: level.bars.map((bar) => ({ right: !level.right, spans: bar.spans.map(() => !level.right) })),
      })),
    }));
    const wrong = fitRhythm(upsideDown, undefined, 1);
    const found = items.map((item) => judgeRhythm(item, wrong)).filter(({ level }) => level);
    expect(found.length).toBeLessThanOrEqual(1);
  });

  test('is stored by name with a temperature', () => {
    const { levels, bars, spans } = namedRhythm(model.rankers, verdicts);
    expect(Object.keys(spans.standard)).toEqual([...SPANS.names]);
    for (const { temperature } of [levels, bars, spans]) expect(temperature).toBeGreaterThan(0);
    expect(levels.layers.map(({ hidden }) => hidden.length)).toEqual(
      model.rankers.levels.layers.map(({ hidden }) => hidden.length),
    );
  });
});

test('where nobody knows bounds or bars, the level alone is learned', async () => {
  const unknown = { loopStart: null, loopEnd: null, downbeats: null };
  const items = await Promise.all(LOOPS.map(async (seed) => (await itemOf(seed, 'recording', unknown)).item));
  expect(items.every(({ hasBars, hasSpan }) => !hasBars && !hasSpan)).toBe(true);
  // Six choices are few: they are gone through more often than thousands are.
  const settings = { ...RHYTHM_SETTINGS, levels: { ...RHYTHM_SETTINGS.levels, epochs: 60 } };
  const model = fitRhythm(items, settings, 1);
  const verdicts = items.map((item) => judgeRhythm(item, model));
  expect(verdicts.filter(({ level }) => level).length).toBeGreaterThanOrEqual(5);
  for (const { bar, span, surprise } of verdicts)
    expect([bar, span, surprise.bar]).toEqual([null, null, null]);
  // Bounds say nothing then: no weight on them.
  expect(Math.max(...Array.from(model.rankers.spans.layers[0].linear, Math.abs))).toBeLessThan(1e-9);
});
