import { timeStretchOf } from '../timeStretch/plan';
import { fitted } from '../timeStretch/voice';
import { barTime, beatTime, type Grid } from '../rhythm/grid';
import { isOnlyBent, planOfMaking } from '@/library/recipes/aims';
import { ditherTo16 } from './dither';
import { swungPlace } from '../rhythm/swing';
import { drawnHits, feelOf } from './hitMoves';
import { madeOf } from './make';
import { renderPlanOf, timesForLength } from './renderPlan';
import { recipeWords } from './recipeWords';
import { RecipeError } from './recipeError';
import { recipe, type RecipeInput } from './recipe';

const RATE = 44_100;
const GRID: Grid = { tempoBpm: 97.3, one: 0.2, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };

/** A short crack with a ring behind it at each of the times, stereo. */
function struck(times: readonly number[], seconds: number): Float32Array[] {
  const left = new Float32Array(Math.round(seconds * RATE));
  for (const [i, time] of times.entries()) {
    const at = Math.round(time * RATE);
    for (let n = 0; n < 9000 && at + n < left.length; n++)
      left[at + n] += 0.5 * Math.exp(-n / 900) * Math.cos(n * (0.21 + 0.013 * (i % 5)));
  }
  return [left, left.map((value) => 0.8 * value)];
}

/** Where a hit begins near a time: the first sample that is a quarter of the loudest of the next 4 ms. */
function hitNear(channel: Float32Array, seconds: number, reach = 0.03): number {
  const from = Math.max(0, Math.round((seconds - reach) * RATE));
  const to = Math.round((seconds + reach) * RATE);
  let most = 0;
  let found = from;
  for (let n = from; n < to; n++) {
    const rise = Math.abs(channel[n] ?? 0) - Math.abs(channel[n - 1] ?? 0);
    if (rise > most) [most, found] = [rise, n];
  }
  return found / RATE;
}

/** Whether two stretches are the same, to the bit; arrays of this length are not shown. */
const same = (a: Float32Array, b: Float32Array) =>
  a.length === b.length && a.every((value, n) => value === b[n]);

const beatsOf = (grid: Grid, count: number) => Array.from({ length: count }, (_, i) => beatTime(grid, i));

function recipeOf(
  input: Omit<RecipeInput, 'parent' | 'kind' | 'name'> & Partial<RecipeInput>,
  grid: Grid,
  hits: number[],
  seconds: number,
) {
  return recipe.parse({
    kind: 'loop',
    name: 'made.wav',
    ...input,
    parent: {
      ...{ sampleId: '11111111-1111-4111-8111-111111111111', name: 'Parent.wav', sha256: 'a'.repeat(64) },
      ...{ sequence: 1, kind: 'song', durationSeconds: seconds, grid, hits, isProved: true },
      ...{ key: { tonic: 1, mode: 'minor' }, tuningCents: 12 },
      ...(input.parent as object),
    },
  });
}

const HITS = beatsOf(GRID, 24);
const PARENT = struck(HITS, 16);
const made = (input: Parameters<typeof recipeOf>[0], grid = GRID, hits = HITS, parent = PARENT) => {
  const wanted = recipeOf(input, grid, hits, parent[0].length / RATE);
  const plan = renderPlanOf(wanted, parent[0].length, RATE);
  return { plan, ...madeOf(parent, plan, wanted) };
};

describe('a cut', () => {
  test('bars 2 to 4 are three bars to the frame, and the parent’s samples', () => {
    const { plan, channels } = made({ region: { from: 4, to: 16 } });
    const from = Math.round(barTime(GRID, 2) * RATE);
    const length = Math.round((12 * 60 * RATE) / GRID.tempoBpm);
    expect(Math.abs(channels[0].length - length)).toBeLessThanOrEqual(1);
    expect(plan.grid!.tempoBpm).toBeCloseTo((60 * 12 * RATE) / channels[0].length, 9);
    expect(plan.bars).toBe(3);
    channels.forEach((channel, c) =>
      expect(same(channel, PARENT[c].subarray(from, from + channel.length))).toBe(true),
    );
    expect(plan.grid!.one).toBe(0);
  });

  test('its pickup stands in front of its one', () => {
    const { plan, channels } = made({ region: { from: 4, to: 8, pickupBeats: 0.5 } });
    expect(plan.grid!.one).toBeCloseTo(30 / GRID.tempoBpm, 4);
    expect(channels[0].length / RATE).toBeCloseTo((4.5 * 60) / GRID.tempoBpm, 3);
  });

  test.each([
    [{ from: 4, to: 4 }, /Nothing is chosen/],
    [{ from: 4, to: 4.02 }, /12 ms long; 30 ms are the least/],
    [{ from: -4, to: 4 }, /over the beginning of the file by \d+ ms/],
    [{ from: 20, to: 40 }, /over the end of the file by \d+ ms/],
    [{ from: 0, to: 4, crossfadeMs: 900 }, /Nothing stands 900 ms before the beginning/],
    [{ from: 8, to: 8.5, crossfadeMs: 300 }, /longer than half/],
  ])('%j is refused', (region, words) => {
    expect(() => made({ region })).toThrow(RecipeError);
    expect(() => made({ region })).toThrow(words);
  });

  test('made exactly four bars: frames, tempo and bars agree, and what that changes is said', () => {
    // A loop that somebody cut 31 ms too short.
    const grid = { ...GRID, one: 0 };
    const short = struck(beatsOf(grid, 16), (16 * 60) / grid.tempoBpm - 0.031);
    const to = 16 - (0.031 * grid.tempoBpm) / 60;
    const input = { region: { from: 0, to }, time: { tempoBpm: 97, exactBeats: 16 } };
    const { plan, channels } = made(input, grid, beatsOf(grid, 16), short);
    const length = Math.round((16 * 60 * RATE) / 97);
    expect(channels[0]).toHaveLength(length);
    expect(plan.bars).toBe(4);
    expect(plan.grid!.tempoBpm).toBeCloseTo(97, 3);
    const before = short[0].length / RATE;
    expect(plan.rounding.ms).toBeCloseTo(
      1000 * (length / RATE) - 1000 * ((plan.size / RATE) * (97.3 / 97)),
      0,
    );
    expect(before).toBeLessThan(length / RATE);
  });

  test('a loop that is a little short is filled: proposed bars can always be made, exactly as long', () => {
    // The last beat lacks 41 ms; its bars are counted all the same.
    const grid = { ...GRID, one: 0 };
    const seconds = (16 * 60) / grid.tempoBpm - 0.041;
    const short = struck(beatsOf(grid, 16), seconds);
    const { plan, channels } = made({ region: { from: 0, to: 16 } }, grid, beatsOf(grid, 16), short);
    expect(channels[0]).toHaveLength(Math.round((16 * 60 * RATE) / grid.tempoBpm));
    expect(plan.missingSeconds).toBeCloseTo(0.041, 4);
    expect(channels[0].subarray(Math.round(seconds * RATE) + 2).every((value) => value === 0)).toBe(true);
    expect(recipeWords(recipeOf({ region: { from: 0, to: 16 } }, grid, [], seconds))).toContain(
      '41 ms of silence at the end',
    );
  });

  test('what is missing at the end is silence where that is asked for', () => {
    const { channels } = made({ region: { from: 12, to: 26, pad: true } });
    const end = Math.round((16 - barTime(GRID, 4)) * RATE);
    expect(channels[0].length).toBeGreaterThan(end);
    expect(channels[0].subarray(end + 2).every((value) => value === 0)).toBe(true);
  });
});

describe('edges', () => {
  /** Runs on for ever at 97.3 BPM: what follows any bar is what its beginning follows. */
  const tone = [Float32Array.from({ length: 16 * RATE }, (_, n) => 0.4 * Math.sin(n * 0.05))];
  const jump = (channel: Float32Array) => Math.abs(channel[0] - channel[channel.length - 1]);

  test('a crossfade ends on what stands before the beginning', () => {
    const plain = made({ region: { from: 4, to: 8 } }, GRID, [], tone);
    const faded = made({ region: { from: 4, to: 8, crossfadeMs: 50, shape: 'linear' } }, GRID, [], tone);
    expect(faded.channels[0]).toHaveLength(plain.channels[0].length);
    // The sine goes on over the turn: a step of it at most.
    expect(jump(faded.channels[0])).toBeLessThan(0.4 * 0.05 * 1.5);
    const before = plain.channels[0].length - Math.round(0.05 * RATE);
    expect(same(faded.channels[0].subarray(0, before), plain.channels[0].subarray(0, before))).toBe(true);
  });

  test('a tail rings over the turn, or on behind the last bar, or is cut', () => {
    // The last hit of bar 2 rings into bar 3, which is silent.
    const hits = [beatTime(GRID, 7.9)];
    const ring = struck(hits, 16);
    const cut = made({ region: { from: 4, to: 8 } }, GRID, hits, ring);
    const over = made(
      { region: { from: 4, to: 8, tail: 'over the beginning', tailSeconds: 0.2 } },
      GRID,
      hits,
      ring,
    );
    const on = made({ region: { from: 4, to: 8, tail: 'rings on', tailSeconds: 0.2 } }, GRID, hits, ring);
    expect(over.channels[0]).toHaveLength(cut.channels[0].length);
    const energy = (channel: Float32Array, from: number, to: number) =>
      channel.subarray(from, to).reduce((sum, value) => sum + value * value, 0);
    expect(energy(cut.channels[0], 0, 4000)).toBe(0);
    const behind = energy(on.channels[0], cut.channels[0].length, cut.channels[0].length + 4000);
    expect(behind).toBeGreaterThan(0.01);
    expect(energy(over.channels[0], 0, 4000)).toBeCloseTo(behind, 6);
    expect(on.channels[0].length - cut.channels[0].length).toBe(Math.round(0.2 * RATE));
  });

  test.each<[string, Partial<RecipeInput>, boolean]>([
    ['a stretch', { region: { from: 4, to: 8 } }, true],
    ['several times', { region: { from: 4, to: 8 }, times: 3 }, true],
    ['its tail over it', { region: { from: 4, to: 8, tail: 'over the beginning', tailSeconds: 0.2 } }, true],
    ['crossfaded', { region: { from: 4, to: 8, crossfadeMs: 20 } }, true],
    ['ringing on', { region: { from: 4, to: 8, tail: 'rings on', tailSeconds: 0.2 } }, false],
    ['with a pickup', { region: { from: 4, to: 8, pickupBeats: 1 } }, false],
    ['counted in', { region: { from: 4, to: 8 }, countInBars: 1 }, false],
    ['with what stands around it', { region: { from: 4, to: 8 }, keepAround: true }, false],
    ['as a one-shot', { region: { from: 4, to: 8 }, kind: 'oneshot' }, false],
    ['all of it', {}, false],
  ])('%s: whether it goes round as a whole', (_, input, turns) => expect(made(input).plan.turns).toBe(turns));

  test('fades begin and end in silence', () => {
    const { channels } = made({ region: { from: 4, to: 8, fadeInMs: 20, fadeOutMs: 40 } }, GRID, [], tone);
    expect(Math.abs(channels[0][0])).toBeLessThan(0.002);
    expect(Math.abs(channels[0][channels[0].length - 1])).toBeLessThan(0.002);
  });

  test('a stretch again and again, with what stands around it', () => {
    const once = made({ region: { from: 4, to: 8 } });
    const often = made({ region: { from: 4, to: 8 }, times: 3, keepAround: true });
    const body = once.channels[0].length;
    const lead = often.plan.lead;
    expect(often.channels[0]).toHaveLength(PARENT[0].length + 2 * body);
    for (let time = 0; time < 3; time++)
      expect(
        same(often.channels[0].subarray(lead + time * body, lead + (time + 1) * body), once.channels[0]),
      ).toBe(true);
    expect(same(often.channels[0].subarray(0, lead), PARENT[0].subarray(0, lead))).toBe(true);
    expect(same(often.channels[0].slice(-1000), PARENT[0].slice(-1000))).toBe(true);
  });

  test.each([
    [{}, 60],
    [{ keepAround: true }, 60],
    [{ keepAround: true, countInBars: 2 }, 90],
    [{ region: { from: 4, to: 8, tail: 'rings on', tailSeconds: 2 } }, 45],
  ] as [Partial<RecipeInput>, number][])('%j as long as %d s is the length of the file', (more, seconds) => {
    const input = { region: { from: 4, to: 8 }, ...more };
    const once = made({ ...input, times: 3 }).plan;
    const times = timesForLength(once, 3, seconds);
    const { plan } = made({ ...input, times });
    const bar = once.body / RATE;
    expect(Math.abs(plan.length / RATE - seconds)).toBeLessThanOrEqual(bar / 2);
    expect(timesForLength(once, 3, 0.1)).toBe(1);
  });

  test('bars of a result are all that it has: repeats, what is kept around, of all of it its own', () => {
    expect(made({ region: { from: 4, to: 8 }, times: 6 }).plan.bars).toBe(6);
    expect(made({ region: { from: 4, to: 6 } }).plan.bars).toBeNull();
    const all = made({ region: { from: 4, to: 8 }, times: 3, keepAround: true }).plan;
    expect(all.bars).toBe(
      Math.floor((all.length / RATE - all.grid!.one + 0.03) / ((4 * 60) / GRID.tempoBpm)),
    );
    const parent = { bars: 6 } as RecipeInput['parent'];
    expect(made({ parent, time: { tempoBpm: 120 } }).plan.bars).toBe(6);
  });

  test('a count-in stands in front, and bar 1 is where it was told', () => {
    const { plan, channels } = made({ region: { from: 4, to: 8 }, countInBars: 2 });
    expect(plan.grid!.one).toBeCloseTo((8 * 60) / GRID.tempoBpm, 4);
    for (let beat = 0; beat < 8; beat++) {
      const at = Math.round((beat * 60 * RATE) / plan.grid!.tempoBpm);
      expect(Math.abs(channels[0][at])).toBeGreaterThan(0.4);
      expect(channels[0][at - 5] ?? 0).toBeCloseTo(0, 1);
    }
    // … or of its own first hit.
    const own = made({ region: { from: 4, to: 8 }, countInBars: 1, countInWith: 'its first hit' });
    const bar = Math.round(own.plan.grid!.one * RATE);
    for (let beat = 0; beat < 4; beat++) {
      const at = Math.round((beat * 60 * RATE) / own.plan.grid!.tempoBpm);
      expect(
        own.channels[0]
          .subarray(at, at + 3000)
          .every((value, n) => Math.abs(value - own.channels[0][bar + n]) < 1e-3),
      ).toBe(true);
    }
    // The click alone, as long as the piece: on every beat, and nothing else.
    const click = made({ region: { from: 4, to: 8 }, time: { tempoBpm: 110 }, clickOnly: true });
    expect(click.channels[0]).toHaveLength(Math.round((4 * 60 * RATE) / 110));
    for (let beat = 0; beat < 4; beat++)
      expect(Math.abs(click.channels[0][Math.round((beat * 60 * RATE) / 110)])).toBeGreaterThan(0.4);
    expect(click.channels[0][Math.round((0.9 * 60 * RATE) / 110)]).toBe(0);
    // A pickup sounds into the last counted bar.
    const hung = made({ region: { from: 4, to: 8, pickupBeats: 1 }, countInBars: 1 });
    expect(hung.plan.grid!.one).toBeCloseTo((4 * 60) / GRID.tempoBpm, 4);
  });
});

describe('bent', () => {
  test('to a tempo and a key: to the frame, each hit on its beat, the key and the tuning told', () => {
    const { plan, channels } = made({
      region: { from: 0, to: 16 },
      time: { tempoBpm: 112 },
      pitch: { semitones: 3, cents: -12 },
    });
    expect(channels[0]).toHaveLength(Math.round((16 * 60 * RATE) / 112));
    expect(plan.key).toEqual({ tonic: 4, mode: 'minor' });
    expect(plan.tuningCents).toBeCloseTo(0, 9);
    for (let beat = 1; beat < 16; beat++) {
      const place = (beat * 60) / 112;
      expect(Math.abs(hitNear(channels[0], place) - place)).toBeLessThan(0.0006);
    }
  });

  test('is the voice’s own work: the same plan fitted by hand is the same, bit by bit', () => {
    const { plan, channels } = made({ region: { from: 0, to: 8 }, time: { tempoBpm: 88 } });
    const source = PARENT.map((channel) => channel.subarray(plan.first, plan.first + plan.size));
    fitted(source, plan.timeStretch).forEach((channel, c) => expect(same(channel, channels[c])).toBe(true));
  });

  const beats = Array.from({ length: 25 }, (_, i) => 0.3 + i * 0.6 + 0.11 * Math.sin(i / 3));
  const moving: Grid = { ...GRID, tempoBpm: 100, one: 0.3, movingBeats: beats };
  const drifting = struck(beats, 16);

  test('a drifting song is made steady: every hit within a tenth of a millisecond of one tempo', () => {
    const { plan, channels } = made(
      { time: { tempoBpm: 104, even: 'beat' }, kind: 'song' },
      moving,
      beats,
      drifting,
    );
    expect(plan.grid).toMatchObject({ tempoBpm: 104, movingBeats: null });
    for (let beat = 0; beat < 24; beat++) {
      const place = plan.grid!.one + (beat * 60) / 104;
      expect(Math.abs(hitNear(channels[0], place) - place)).toBeLessThan(0.0002);
    }
  });

  test('all of a song that is only bent is heard by the very same fitting, step by step', () => {
    const wanted = recipeOf({ time: { tempoBpm: 104, even: 'beat' }, kind: 'song' }, moving, beats, 16);
    const plan = renderPlanOf(wanted, drifting[0].length, RATE);
    expect(isOnlyBent(wanted)).toBe(true);
    const heard = planOfMaking(plan, wanted);
    const { first, size, timeStretch } = timeStretchOf(heard, RATE, drifting[0].length);
    expect({ first, size, length: timeStretch.length }).toEqual({
      first: plan.first,
      size: plan.size,
      length: plan.length,
    });
    timeStretch.map!.source.forEach((frame, i) =>
      expect(frame).toBeCloseTo(plan.timeStretch.map!.source[i], 6),
    );
    timeStretch.map!.result.forEach((frame, i) =>
      expect(frame).toBeCloseTo(plan.timeStretch.map!.result[i], 6),
    );
    timeStretch.attacks.forEach((frame, i) => expect(frame).toBeCloseTo(plan.timeStretch.attacks[i], 6));
    expect(isOnlyBent(recipeOf({ region: { from: 0, to: 4 } }, moving, beats, 16))).toBe(false);
  });

  test('by bars the bar lines are even, and the beats between keep how they were played', () => {
    const { plan, channels } = made(
      { time: { tempoBpm: 104, even: 'bar' }, kind: 'song' },
      moving,
      beats,
      drifting,
    );
    const bar = (4 * 60) / 104;
    for (let line = 0; line < 6; line++) {
      const place = plan.grid!.one + line * bar;
      expect(Math.abs(hitNear(channels[0], place) - place)).toBeLessThan(0.0002);
    }
    const inside = beats.slice(1, 4).map((beat) => (beat - beats[0]) / (beats[4] - beats[0]));
    inside.forEach((share) => {
      const place = plan.grid!.one + share * bar;
      expect(Math.abs(hitNear(channels[0], place) - place)).toBeLessThan(0.0002);
    });
  });

  test('its movement can be kept while the tempo changes', () => {
    const { plan } = made({ time: { tempoBpm: 120 }, kind: 'song' }, moving, beats, drifting);
    expect(plan.grid!.movingBeats![7] - plan.grid!.movingBeats![0]).toBeCloseTo(
      (beats[7] - beats[0]) / 1.2,
      6,
    );
  });

  test('a map that needs more than fourfold is refused', () =>
    expect(() => made({ region: { from: 0, to: 8 }, time: { tempoBpm: 20 } })).toThrow(/4.9 times as long/));
});

describe('hits', () => {
  test('one that is moved stands in its place to the frame; its neighbours do not move', () => {
    const late = HITS.map((time, i) => (i === 5 ? time + 0.024 : time));
    const parent = struck(late, 16);
    const input = { region: { from: 0, to: 16 }, hits: { moves: [{ at: late[5], ms: -24 }] } };
    const { channels } = made(input, GRID, late, parent);
    const from = GRID.one;
    for (let beat = 1; beat < 16; beat++) {
      const place = HITS[beat] - from;
      expect(Math.abs(hitNear(channels[0], place) - place)).toBeLessThan(0.0002);
    }
    // And back again: the recipe without the move is the cut.
    const back = made({ region: { from: 0, to: 16 } }, GRID, late, parent);
    expect(Math.abs(hitNear(back.channels[0], late[5] - from) - (late[5] - from))).toBeLessThan(0.0001);
  });

  const uneven = HITS.map((time, i) => time + (i % 3 === 1 ? 0.018 : i % 3 === 2 ? -0.011 : 0));
  test.each([0.5, 1])('drawn to the grid by %f they are as much nearer', (pull) => {
    const { plan } = made(
      { region: { from: 0, to: 16 }, hits: { pull, parts: 4 } },
      GRID,
      uneven,
      struck(uneven, 16),
    );
    for (const { at, to } of plan.moved.slice(1)) {
      const beat = Math.round(((at * GRID.tempoBpm) / 60) * 1);
      const place = (beat * 60) / plan.grid!.tempoBpm;
      expect(to - place).toBeCloseTo((1 - pull) * (at - place), 4);
    }
  });

  test('what drawing comes to is told: how many move, how near they come, what stays, which swing is kept', () => {
    const swung = HITS.flatMap((hit, i) => [
      hit + 0.012,
      hit + (0.62 * 60) / GRID.tempoBpm + (i % 3) * 0.004,
    ]);
    const parent = struck(swung, 16);
    const drawn = (hits: RecipeInput['hits']) =>
      made({ region: { from: 0, to: 20 }, hits }, GRID, swung, parent).plan;
    const kept = drawn({ pull: 1, parts: 2 });
    expect(kept.keptSwing).toBeCloseTo(0.62, 1);
    const told = drawnHits(kept.moved)!;
    expect(told.after.usualMs).toBeLessThan(0.01);
    // What stands 12 ms behind the beginning is drawn as near to it as sound can be bent.
    expect(told.after.mostMs).toBeCloseTo(3, 2);
    expect(told.before.usualMs).toBeGreaterThan(3);
    expect(told.moved).toBeGreaterThan(0.9 * told.of);
    expect(drawn({ pull: 1, parts: 2, swing: 0.5, windowMs: 100 }).keptSwing).toBeNull();
    // A window that nothing lies in moves nothing, and says so.
    expect(drawnHits(drawn({ pull: 1, parts: 1, windowMs: 1 }).moved)).toBeNull();
  });

  test('those outside of the window stay', () => {
    const { plan } = made(
      { region: { from: 0, to: 16 }, hits: { pull: 1, parts: 1, windowMs: 14 } },
      GRID,
      uneven,
      struck(uneven, 16),
    );
    const stays = plan.moved.filter(({ from, to }) => Math.abs(from - to) < 1e-9);
    expect(stays.length).toBeGreaterThanOrEqual(5);
  });

  test('swing is kept, or set', () => {
    const swung = Array.from({ length: 32 }, (_, i) =>
      beatTime(GRID, Math.floor(i / 2) + (i % 2 ? 0.62 : 0)),
    );
    const parent = struck(swung, 16);
    const off = (swing: number | null) => {
      const { plan } = made(
        { region: { from: 0, to: 16 }, hits: { pull: 1, parts: 2, swing } },
        GRID,
        swung,
        parent,
      );
      const beat = 60 / plan.grid!.tempoBpm;
      return plan.moved.filter((_, i) => i % 2).map(({ to }) => (to / beat) % 1);
    };
    off(null).forEach((place) => expect(place).toBeCloseTo(0.62, 2));
    off(0.5).forEach((place) => expect(place).toBeCloseTo(0.5, 3));
    off(2 / 3).forEach((place) => expect(place).toBeCloseTo(2 / 3, 3));
    expect([0, 1, 2, 3].map((part) => swungPlace(part, 4, 2 / 3))).toEqual(
      [0, 1 / 3, 2 / 3, 5 / 6].map((x) => expect.closeTo(x, 9)),
    );
  });

  test('the groove of another sample is measured by its places in the bar, and laid on by a share', () => {
    // Backbeats 15 ms late, the rest on the grid.
    const laidBack = HITS.map((time, i) => time + (i % 2 ? 0.015 : 0));
    const feel = feelOf(laidBack, GRID, 2, 'Laid back.wav');
    expect(feel.lateMs).toEqual(
      [0, null, 15, null, 0, null, 15, null].map((ms) => (ms === null ? null : expect.closeTo(ms, 6))),
    );
    const { plan } = made({ region: { from: 0, to: 16 }, hits: { feel, feelShare: 0.6 } });
    plan.moved
      .slice(1)
      .forEach(({ from, to }, i) => expect(1000 * (to - from)).toBeCloseTo(i % 2 ? 0 : 9, 1));
  });

  test('one that would overtake its neighbour is refused', () =>
    expect(() =>
      made({
        region: { from: 0, to: 16 },
        hits: {
          moves: [
            { at: HITS[5], ms: -500 },
            { at: HITS[4], ms: 400 },
          ],
        },
      }),
    ).toThrow(/would stand before the one in front of it/));
});

describe('level', () => {
  test('what would clip is made quieter, by how much is said; floating point holds it; or it is refused', () => {
    const loud = { region: { from: 0, to: 8 }, write: { gainDb: 12 } };
    const { quieterDb, peak } = made(loud);
    expect(quieterDb).toBeGreaterThan(4);
    expect(peak).toBeLessThanOrEqual(1);
    expect(made({ ...loud, write: { gainDb: 12, format: 'wav 32 float' } }).peak).toBeGreaterThan(1.5);
    expect(() => made({ ...loud, write: { gainDb: 12, tooLoud: 'refuse' } })).toThrow(
      /dB louder than full scale/,
    );
  });

  test('stems are made quieter by what is said of their set, whether or not they would clip by themselves', () => {
    const gain = (setDb: number) => made({ region: { from: 0, to: 8 }, write: { gainDb: -6, setDb } });
    expect(gain(4).quieterDb).toBe(4);
    expect(20 * Math.log10(gain(0).peak / gain(4).peak)).toBeCloseTo(4, 6);
  });

  test('dither: noise of 4.8 dB over rounding alone that has nothing of the sound in it', () => {
    const quiet = Float32Array.from({ length: 1 << 16 }, (_, n) => (1.3 / 32_768) * Math.sin(n * 0.031));
    const dithered = quiet.slice();
    ditherTo16([dithered]);
    const error = dithered.map((value, n) => (value - quiet[n]) * 32_768);
    const power = error.reduce((sum, value) => sum + value * value, 0) / error.length;
    // A quarter of a step squared: a twelfth by rounding, two by the noise.
    expect(10 * Math.log10(power * 12)).toBeCloseTo(4.77, 1);
    // Third harmonic of the sine: rounding alone has it, dither not.
    const third = (samples: Float32Array) => {
      let [re, im] = [0, 0];
      samples.forEach((value, n) => {
        re += value * Math.cos(n * 0.093);
        im += value * Math.sin(n * 0.093);
      });
      return (2 * Math.hypot(re, im)) / samples.length;
    };
    const rounded = quiet.map((value) => Math.round(value * 32_768) / 32_768 - value);
    expect(third(dithered.map((value, n) => value - quiet[n]))).toBeLessThan(third(rounded) / 8);
    const silence = new Float32Array(1000);
    ditherTo16([silence]);
    expect(silence.every((value) => value === 0)).toBe(true);
  });
});
