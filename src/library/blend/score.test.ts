import { OrderRefusal } from '../orderRefusal';
import { timeStretchOf } from '@/core/timeStretch/plan';
import { beatTime } from '@/core/rhythm/grid';
import { readMidi } from '@/core/formats/midi';
import { emptyBlend, newLane, type Blend, type LaneInput } from '@/contract/blend';
import { hearingOf } from './hearing';
import { extentOf } from './extent';
import { mixed, partsFitted } from './mixdown';
import { ordered } from './orders';
import { heardIn, hitsOf, type LaneFacts } from './parts';
import { scoreOf } from './score';
import { tempoMapOf } from './tempoMap';
import { flamsOf, foldOf, timingOf } from './timing';

const ID = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

interface Sample {
  bpm: number;
  bars?: number;
  beatsPerBar?: number;
  one?: number;
  kind?: 'loop' | 'song' | 'oneshot';
  key?: { tonic: number; mode: 'major' | 'minor' } | null;
  movingBeats?: number[] | null;
  /** Every beat is struck, later by so many ms. */
  lateMs?: number;
  seconds?: number;
  hits?: number[];
  tuningCents?: number;
  attackMs?: number;
}

/** Facts of a sample that is struck on every beat. */
function facts({
  bpm,
  bars = 4,
  beatsPerBar = 4,
  one = 0,
  kind = 'loop',
  key = null,
  ...more
}: Sample): LaneFacts {
  const meter = { beatsPerBar, beatUnit: 4 };
  const grid =
    kind === 'oneshot' ? null : { tempoBpm: bpm, one, meter, movingBeats: more.movingBeats ?? null };
  const durationSeconds = more.seconds ?? one + (bars * beatsPerBar * 60) / bpm;
  const hits =
    more.hits ??
    (grid
      ? Array.from(
          { length: bars * beatsPerBar },
          (_, beat) => beatTime(grid, beat) + (more.lateMs ?? 0) / 1000,
        )
      : [0]);
  return {
    settled: { kind, durationSeconds, grid, loop: null, hits, isVoice: false, attackMs: more.attackMs ?? 0 },
    fittable: {
      ...{ kind, tempoBpm: grid ? bpm : null, bars: kind === 'oneshot' ? null : bars, beatsPerBar, key },
      ...{ tuningCents: more.tuningCents ?? 0, isUnpitched: false },
    },
  };
}

const lane = (n: number, more: Partial<LaneInput> = {}) =>
  newLane({ laneId: `lane ${n}`, sampleId: ID(n), name: `Sample ${n}`, times: null, ...more });

const blendOf = (lanes: ReturnType<typeof lane>[], more: Partial<Blend> = {}): Blend => ({
  ...emptyBlend('Rain'),
  ...{ tempoBpm: 96, lead: 'lane 1', lanes },
  ...more,
});
const known = (...samples: LaneFacts[]) => new Map(samples.map((one, i) => [ID(i + 1), one]));

describe('lanes on one ruler', () => {
  test('two tempi meet at every common beat, exactly', () => {
    const score = scoreOf(
      blendOf([lane(1), lane(2)], { tempoBpm: 88.402 }),
      known(facts({ bpm: 88.402 }), facts({ bpm: 117 })),
    );
    const [a, b] = score.lanes.map((one) => hitsOf(one));
    expect(a).toHaveLength(16);
    expect(b).toHaveLength(16);
    a.forEach((hit, i) => expect(Math.abs(hit - b[i])).toBeLessThan(1e-9));
    // The lead is as it was recorded, and strains nothing.
    expect(score.lanes[0].bend).toMatchObject({ ratio: 1, strain: 0, cleaner: null });
    expect(score.lanes[1].bend.ratio).toBeCloseTo(117 / 88.402, 9);
  });

  test('loops of 3, 4 and 2 bars meet after 12, and are as often heard as they fit', () => {
    const score = scoreOf(
      blendOf([lane(1), lane(2), lane(3)]),
      known(facts({ bpm: 96, bars: 3 }), facts({ bpm: 100, bars: 4 }), facts({ bpm: 90, bars: 2 })),
    );
    expect(score).toMatchObject({ bars: 12, meetBars: 12 });
    expect(score.lanes.map(({ every }) => every)).toEqual([12, 16, 8]);
    for (const one of score.lanes) expect(hitsOf(one)).toHaveLength(48);
    expect(score.seconds).toBeCloseTo((12 * 4 * 60) / 96);
  });

  test('what loops ends with the others, and is heard once at least', () => {
    const struck = facts({ bpm: 0, kind: 'oneshot', seconds: 1 });
    const lengths = (times: number) =>
      scoreOf(
        blendOf([lane(1), lane(2, { times: 1 }), lane(3, { times })]),
        known(facts({ bpm: 96, bars: 4 }), struck, facts({ bpm: 90, bars: 1 })),
      ).bars;
    expect(lengths(1)).toBe(4);
    expect(lengths(10)).toBe(10);
  });

  test('its end can be set by hand: everything is cut there, also what is heard once, or it goes on until there', () => {
    const lengths = (endBars: number | null) => {
      const score = scoreOf(
        blendOf([lane(1), lane(2, { times: 1 })], { endBars }),
        known(facts({ bpm: 96, bars: 3 }), facts({ bpm: 90, bars: 8, kind: 'song', seconds: 30 })),
      );
      const ends = score.lanes.flatMap(({ parts }) => parts.map(({ until }) => until));
      return { ...score, last: Math.max(...ends) };
    };
    const own = lengths(null);
    expect(own).toMatchObject({ bars: 12, ownBars: 12 });
    const short = lengths(2);
    expect(short).toMatchObject({ bars: 2, ownBars: 12 });
    expect(short.seconds).toBeCloseTo((2 * 4 * 60) / 96, 9);
    expect(short.last).toBeCloseTo(short.seconds, 9);
    expect(extentOf(short).to).toBeCloseTo(short.seconds, 9);
    const long = lengths(24);
    // The loop goes on, what is heard once ends where it ends.
    expect(Math.max(...long.lanes[0].parts.map(({ until }) => until))).toBeCloseTo((24 * 4 * 60) / 96, 9);
    expect(hitsOf(long.lanes[0])).toHaveLength(96);
  });

  test('a waltz beside bars of four meets them after both', () => {
    const score = scoreOf(
      blendOf([lane(1), lane(2)]),
      known(facts({ bpm: 96, bars: 1 }), facts({ bpm: 96, bars: 1, beatsPerBar: 3 })),
    );
    expect(score).toMatchObject({ bars: 3, meetBars: 3 });
  });

  test('a pickup hangs before its bar, and a render begins a bar earlier', () => {
    const song = facts({ bpm: 120, one: 1.25, kind: 'song', bars: 4 });
    const score = scoreOf(blendOf([lane(1, { times: 1 })], { tempoBpm: 120 }), known(song));
    expect(score.begins).toBeCloseTo(-1.25);
    expect(score.bars).toBe(4);
    expect(heardIn(score.lanes[0], 0)).toBeCloseTo(1.25);
    expect(extentOf(score)).toMatchObject({ from: -2, barsBefore: 1 });
  });

  test('a stem whose one stands before its file begins where it sounded', () => {
    const late = facts({ bpm: 120, one: -4, kind: 'song', bars: 8, seconds: 12, hits: [0, 2, 4] });
    const score = scoreOf(blendOf([lane(1, { times: 1 })], { tempoBpm: 60 }), known(late));
    // Beat 8 of the song, at half the speed or not, stands on beat 8 (or 4) of the ruler.
    const { level } = score.lanes[0].bend;
    expect(score.lanes[0].parts[0].start).toBeCloseTo(8 * level!, 6);
  });

  test('used bars are cut out and loop; what lies outside is said', () => {
    const song = facts({ bpm: 96, kind: 'song', bars: 16 });
    const used = lane(1, { used: { from: 5, bars: 2 }, times: 3, at: 4 });
    const score = scoreOf(blendOf([used]), known(song));
    expect(score.lanes[0]).toMatchObject({ every: 8, fault: null });
    expect(score.bars).toBe(7);
    expect(score.lanes[0].parts[0]).toMatchObject({ isLooping: true });
    expect(score.lanes[0].parts[0].plan.from).toBeCloseTo((16 * 60) / 96);
    expect(hitsOf(score.lanes[0])).toHaveLength(24);
    const outside = scoreOf(blendOf([lane(1, { used: { from: 40, bars: 2 } })]), known(song));
    expect(outside.lanes[0].fault).toContain('outside');
  });

  test('matched to so many bars it is exactly as long, with a tempo and without', () => {
    const fit = { to: 'bars', bars: 2 } as const;
    const score = scoreOf(
      blendOf([lane(1, { fit, times: 1 }), lane(2, { fit, times: 1 })]),
      known(facts({ bpm: 80, bars: 1 }), facts({ bpm: 0, kind: 'oneshot', seconds: 4 })),
    );
    for (const { parts } of score.lanes) expect(parts[0].plan.seconds).toBeCloseTo(5, 9);
  });

  test('position in time it keeps its seconds when the tempo changes, position in bars it follows', () => {
    const spoken = facts({ bpm: 0, kind: 'oneshot', seconds: 3 });
    const lanes = [
      lane(1),
      lane(2, { held: 'time', atSeconds: 2.5, times: 1 }),
      lane(3, { at: 4, times: 1 }),
    ];
    const at = (tempoBpm: number) =>
      scoreOf(blendOf(lanes, { tempoBpm }), known(facts({ bpm: 96 }), spoken, spoken)).lanes;
    const [slow, fast] = [at(90), at(120)];
    expect(slow[1].parts).toEqual(fast[1].parts);
    expect(fast[1].parts[0]).toMatchObject({ start: 2.5, plan: { seconds: 3 } });
    expect(slow[2].parts[0].start).toBeCloseTo(4 * (60 / 90));
    expect(fast[2].parts[0].start).toBeCloseTo(2);
  });

  test('position in time until the others end, it is heard once at least, wherever it begins', () => {
    const spoken = facts({ bpm: 0, kind: 'oneshot', seconds: 3 });
    const late = lane(2, { held: 'time', atSeconds: 10, times: null });
    const score = scoreOf(blendOf([lane(1), late], { tempoBpm: 120 }), known(facts({ bpm: 96 }), spoken));
    expect(score.bars).toBe(7);
    expect(score.lanes[1].parts[0]).toMatchObject({ start: 10, isCut: false });
    // The loop goes on until then.
    expect(hitsOf(score.lanes[0]).at(-1)).toBeGreaterThan(13);
  });

  test('tempi that are far beyond each other are told, and nothing is made of them', () => {
    for (const [bpm, tempoBpm] of [
      [20, 400],
      [400, 20],
      [1, 999],
    ]) {
      const score = scoreOf(blendOf([lane(1)], { tempoBpm }), known(facts({ bpm })));
      const { fault, remarks, bend } = score.lanes[0];
      expect(fault !== null || remarks.length > 0 || bend.level !== null).toBe(true);
      expect(Number.isFinite(score.seconds)).toBe(true);
    }
  });

  test('what is very long says what it takes', () => {
    const remarksOf = (seconds: number) =>
      scoreOf(blendOf([lane(1, { times: 1 })]), known(facts({ bpm: 0, kind: 'oneshot', seconds }))).lanes[0]
        .remarks;
    expect(remarksOf(3600)).toContainEqual(
      expect.stringMatching(/^60 minutes long: .* needs about 1\.3 GB of memory$/),
    );
    expect(remarksOf(240).join()).not.toContain('memory');
  });

  test('a change of tempo at a bar is followed beat by beat', () => {
    const blend = blendOf([lane(1)], {
      changes: [
        { bar: 3, tempoBpm: 120 },
        { bar: 4, tempoBpm: 60 },
      ],
    });
    const score = scoreOf({ ...blend, lanes: [lane(1, { times: 3 })] }, known(facts({ bpm: 96, bars: 2 })));
    const beat = (n: number) => beatTime(score.grid, n);
    expect(beat(8) - beat(7)).toBeCloseTo(60 / 96);
    expect(beat(9) - beat(8)).toBeCloseTo(0.5);
    expect(beat(13) - beat(12)).toBeCloseTo(1);
    expect(beat(100) - beat(99)).toBeCloseTo(1);
    hitsOf(score.lanes[0]).forEach((hit, i) => expect(hit).toBeCloseTo(beat(i), 9));
  });

  test('a lead that moves keeps its movement, the others follow it bar by bar', () => {
    const movingBeats = Array.from({ length: 17 }, (_, i) => 0.3 + 0.6 * i + 0.02 * Math.sin(i));
    const lead = facts({ bpm: 100, kind: 'song', one: movingBeats[0], movingBeats, seconds: 10.5 });
    const movement = lead.settled.grid;
    const score = scoreOf(
      blendOf([lane(1, { times: 1 }), lane(2)], { tempoBpm: 100, movement }),
      known(lead, facts({ bpm: 97, bars: 1 })),
    );
    expect(score.lanes[0].bend.ratio).toBeCloseTo(1, 6);
    const hits = hitsOf(score.lanes[1]).slice(0, 16);
    hits.forEach((hit, i) => expect(hit).toBeCloseTo(movingBeats[i] - movingBeats[0], 6));
  });

  test('keys: the lead stays, the others are moved to it and to its tuning', () => {
    const [c, eFlat] = [
      { tonic: 0, mode: 'minor' as const },
      { tonic: 3, mode: 'minor' as const },
    ];
    const samples = known(
      facts({ bpm: 96, key: c, tuningCents: 12 }),
      facts({ bpm: 96, key: eFlat, tuningCents: -8 }),
    );
    const score = scoreOf(blendOf([lane(1), lane(2)], { key: c }), samples);
    expect(score.lanes[0].bend).toMatchObject({ semitones: 0, cents: 0 });
    expect(score.lanes[1].bend).toMatchObject({ semitones: -3, cents: 20, otherWay: 9, becomes: 'the key' });
    const byHand = scoreOf(blendOf([lane(1), lane(2, { semitones: 9 })], { key: c }), samples);
    expect(byHand.lanes[1].bend.semitones).toBe(9);
    expect(byHand.lanes[1].bend.cleaner).toMatchObject({ semitones: -3 });
  });

  test('the timing of one lane is taken by another, by a share', () => {
    const swung = facts({
      bpm: 96,
      bars: 2,
      hits: Array.from({ length: 8 }, (_, i) => (i * 60) / 96 + (i % 2 ? 0.03 : 0)),
    });
    const feel = (share: number) => lane(2, { feel: { of: 'lane 1', share } });
    const at = (share: number) =>
      hitsOf(scoreOf(blendOf([lane(1), feel(share)]), known(swung, facts({ bpm: 96, bars: 2 }))).lanes[1]);
    expect(at(0)[3]).toBeCloseTo((3 * 60) / 96);
    expect(at(1)[3]).toBeCloseTo((3 * 60) / 96 + 0.03, 4);
    expect(at(0.5)[3]).toBeCloseTo((3 * 60) / 96 + 0.015, 4);
    expect(at(1)[2]).toBeCloseTo((2 * 60) / 96, 4);
  });

  test('a loop that is a little short begins each time when it is due: nothing adds up', () => {
    const short = facts({ bpm: 96, bars: 2, seconds: (8 * 60) / 96 - 0.025 });
    const score = scoreOf(blendOf([lane(1, { times: 8 })], { tempoBpm: 100 }), known(short));
    const { parts } = score.lanes[0];
    expect(parts).toHaveLength(8);
    parts.forEach(({ start, plan }, time) => {
      expect(start).toBeCloseTo(time * 4.8, 9);
      expect(plan).toBe(parts[0].plan);
    });
    hitsOf(score.lanes[0]).forEach((hit, beat) => expect(hit).toBeCloseTo(beat * 0.6, 9));
    // One that is whole loops by itself.
    const whole = scoreOf(
      blendOf([lane(1, { times: 8 })], { tempoBpm: 100 }),
      known(facts({ bpm: 96, bars: 2 })),
    );
    expect(whole.lanes[0].parts).toMatchObject([{ isLooping: true, start: 0, turn: expect.closeTo(4.8, 9) }]);
  });

  test('what cannot be is silent and says why', () => {
    const samples = known(facts({ bpm: 96 }), facts({ bpm: 96, bars: 1 }));
    const score = scoreOf(blendOf([lane(1), lane(2, { fit: { to: 'bars', bars: 8 } }), lane(9)]), samples);
    expect(score.lanes[1].fault).toContain('8.0 times as long');
    expect(score.lanes[2].fault).toContain('not measured yet');
    expect(score.bars).toBe(4);
  });
});

describe('agreement in time', () => {
  test('what stands beside the others, leans, or flams is told with its figures', () => {
    const leaning = facts({
      bpm: 110.5,
      bars: 16,
      hits: Array.from({ length: 64 }, (_, i) => (i * 60) / 110.39),
    });
    const samples = known(facts({ bpm: 96, bars: 4 }), facts({ bpm: 96, bars: 4, lateMs: 25 }), leaning);
    const score = scoreOf(blendOf([lane(1), lane(2), lane(3, { times: 1 })]), samples);
    const [straight, late, leans] = timingOf(score);
    expect(straight).toMatchObject({ leans: false, isBeside: false });
    expect(late).toMatchObject({ leans: false, isBeside: true });
    expect(late.figures.medianMs).toBeCloseTo(25, 1);
    expect(leans).toMatchObject({ leans: true });
    expect(110.5 * leans.tempoFactor!).toBeCloseTo(110.39, 2);
    const flams = flamsOf({ ...score, lanes: score.lanes.slice(0, 2) });
    expect(flams).toHaveLength(64);
    expect(flams[5]).toMatchObject({ early: 'lane 1', late: 'lane 2', bar: 2 });
    expect(flams[5].ms).toBeCloseTo(25, 1);
    const fold = foldOf(score.lanes[1], score);
    expect(fold[4].bar).toBe(1);
    expect(fold[4].share).toBeCloseTo(0.025 / (240 / 96), 4);
  });

  test('what comes up slowly is neither late nor flams by as much as that', () => {
    const of = (attackMs: number) => {
      const samples = known(facts({ bpm: 96 }), facts({ bpm: 96, lateMs: 25, attackMs }));
      const score = scoreOf(blendOf([lane(1), lane(2)]), samples);
      return { flams: flamsOf(score).length > 0, isBeside: timingOf(score)[1].isBeside };
    };
    expect(of(0)).toEqual({ flams: true, isBeside: true });
    expect(of(15)).toEqual({ flams: true, isBeside: false });
    expect(of(20)).toEqual({ flams: false, isBeside: false });
  });

  test('a nudge sets it upright', () => {
    const samples = known(facts({ bpm: 96 }), facts({ bpm: 96, lateMs: 25 }));
    const score = scoreOf(blendOf([lane(1), lane(2, { nudgeMs: -25 })]), samples);
    expect(flamsOf(score)).toHaveLength(0);
    expect(timingOf(score)[1].figures.medianMs).toBeCloseTo(0, 3);
  });
});

describe('orders', () => {
  const base = blendOf([lane(1), lane(2), lane(3)]);
  test('say what they change and leave the rest', () => {
    const louder = ordered(base, { do: 'lanes', patches: [{ laneId: 'lane 2', patch: { levelDb: 3 } }] });
    expect(louder.lanes[1]).toEqual({ ...base.lanes[1], levelDb: 3 });
    expect(ordered(base, { do: 'move', laneId: 'lane 3', to: 0 }).lanes.map(({ laneId }) => laneId)).toEqual([
      'lane 3',
      'lane 1',
      'lane 2',
    ]);
    expect(ordered(base, { do: 'take', laneId: 'lane 1' })).toMatchObject({ lead: null, tempoBpm: 96 });
    expect(
      ordered(base, {
        do: 'set',
        patch: {
          changes: [
            { bar: 5, tempoBpm: 90 },
            { bar: 2, tempoBpm: 80 },
          ],
        },
      }).changes[0].bar,
    ).toBe(2);
  });

  test('a thirteenth lane, one that is gone and a round that ends before it begins are refused in words', () => {
    const full = blendOf(Array.from({ length: 12 }, (_, i) => lane(i + 1)));
    expect(() => ordered(full, { do: 'put', lane: lane(13), leads: false, takes: null })).toThrow(
      'a blend holds 12 lanes at most',
    );
    expect(() => ordered(base, { do: 'lanes', patches: [{ laneId: 'gone', patch: {} }] })).toThrow(
      OrderRefusal,
    );
    expect(() => ordered(base, { do: 'set', patch: { round: { from: 5, to: 4 } } })).toThrow(OrderRefusal);
  });
});

describe('what is exported', () => {
  const RATE = 8000;
  const clicks = (bpm: number, beats: number) => {
    const out = new Float32Array(Math.round((beats * 60 * RATE) / bpm));
    for (let beat = 0; beat < beats; beat++) out[Math.round((beat * 60 * RATE) / bpm)] = 0.5;
    return out;
  };
  const fitted = (score: ReturnType<typeof scoreOf>, sources: Float32Array[]) =>
    score.lanes.flatMap((one, i) => {
      const steps = partsFitted(one.parts, [sources[i]], RATE);
      let found = steps.next();
      while (!found.done) found = steps.next();
      const hearing = hearingOf(
        one.lane,
        score.lanes.map((other) => other.lane),
      );
      return [...found.value].map(([part, channels]) => ({ part, channels, hearing }));
    });

  test('lanes stand where the ruler says, as often as they are heard, at their level and side', () => {
    const blend = blendOf([lane(1, { pan: -1 }), lane(2, { pan: 1, levelDb: -6.0206 })]);
    const score = scoreOf(blend, known(facts({ bpm: 96, bars: 1 }), facts({ bpm: 96, bars: 2 })));
    const parts = fitted(score, [clicks(96, 4), clicks(96, 8)]);
    const [left, right] = mixed(parts, { from: 0, to: score.seconds, rate: RATE });
    const beats = Array.from({ length: 8 }, (_, i) => Math.round((i * 60 * RATE) / 96));
    const loud = (samples: Float32Array) => [...samples.keys()].filter((i) => Math.abs(samples[i]) > 0.1);
    expect(loud(left)).toEqual(beats);
    expect(loud(right)).toEqual(beats);
    expect(left[beats[5]]).toBeCloseTo(0.5, 4);
    expect(right[beats[5]]).toBeCloseTo(0.25, 4);
    expect(left).toHaveLength(timeStretchOf(score.lanes[1].parts[0].plan, RATE).timeStretch.length);
  });

  test('a solo silences the others, and a lane that ends early is silent after it', () => {
    const blend = blendOf([lane(1, { solo: true, times: 1 }), lane(2, { times: 2 })]);
    const score = scoreOf(blend, known(facts({ bpm: 96, bars: 1 }), facts({ bpm: 96, bars: 1 })));
    const [left] = mixed(fitted(score, [clicks(96, 4), clicks(96, 4)]), {
      from: 0,
      to: score.seconds,
      rate: RATE,
    });
    expect([...left].filter((value) => Math.abs(value) > 0.1)).toHaveLength(4);
  });

  test('the tempo map tells tempo, time signature, key and where lanes begin', () => {
    const blend = blendOf([lane(1), lane(2, { at: 8 })], {
      key: { tonic: 2, mode: 'minor' },
      changes: [{ bar: 3, tempoBpm: 120 }],
    });
    const score = scoreOf(
      { ...blend, lanes: blend.lanes.map((one) => ({ ...one, times: 1 })) },
      known(facts({ bpm: 96 }), facts({ bpm: 96 })),
    );
    const read = readMidi(tempoMapOf(blend, score));
    expect(read.claims).toEqual({
      bpm: 96,
      meter: { beatsPerBar: 4, beatUnit: 4 },
      key: { tonic: 2, mode: 'minor' },
    });
    read.notes.forEach(({ time, key }, beat) => {
      expect(Math.abs(time - beatTime(score.grid, beat))).toBeLessThan(0.001);
      expect(key).toBe(beat % 4 === 0 ? 76 : 77);
    });
    expect(read.notes).toHaveLength(score.bars * 4);
  });
});
