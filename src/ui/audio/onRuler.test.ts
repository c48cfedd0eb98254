import { emptyBlend, newLane, type Blend, type LaneInput } from '@/contract/blend';
import { hearingOf } from '@/library/blend/hearing';
import { mixed, partsFitted } from '@/library/blend/mixdown';
import { hitsOf, type LaneFacts } from '@/library/blend/parts';
import { scoreOf } from '@/library/blend/score';
import { FADE_FRAMES } from '@/core/playing/mixer';
import { beatTime, type Grid } from '@/core/rhythm/grid';
import { decoded, DecoderStandIn } from '../../../tests/support/decoderStandIn';
import { installThreads } from '../../../tests/support/fitterStandIn';
import { decode as decodeOf, settle, soundRoom } from '../../../tests/support/soundRoom';
import { OnRuler } from './onRuler';
import type { Ruler } from './ruler';
import { rulerOf } from './rulerOf';

const RATE = 8000;
const BLOCK = 128;
beforeEach(() => installThreads());

const ID = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

interface Piece {
  facts: LaneFacts;
  samples: Float32Array;
}
/** A loop with a short burst on each beat. */
function loop(bpm: number, bars: number): Piece {
  const grid: Grid = { tempoBpm: bpm, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
  const durationSeconds = (bars * 4 * 60) / bpm;
  const samples = new Float32Array(Math.round(durationSeconds * RATE));
  const hits = Array.from({ length: bars * 4 }, (_, beat) => beatTime(grid, beat));
  for (const hit of hits)
    for (let i = 0; i < 60; i++)
      if (Math.round(hit * RATE) + i < samples.length)
        samples[Math.round(hit * RATE) + i] += 0.45 * Math.cos(i / 2) * Math.exp(-i / 15);
  return {
    samples,
    facts: {
      settled: { kind: 'loop', durationSeconds, grid, loop: null, hits, isVoice: false },
      fittable: {
        kind: 'loop',
        tempoBpm: bpm,
        bars,
        beatsPerBar: 4,
        key: null,
        tuningCents: null,
        isUnpitched: true,
      },
    },
  };
}

/** Something without a tempo: a tone. */
function tone(seconds: number): Piece {
  return {
    samples: Float32Array.from({ length: seconds * RATE }, (_, i) => 0.4 * Math.sin(i / 3)),
    facts: {
      settled: {
        kind: 'oneshot',
        durationSeconds: seconds,
        grid: null,
        loop: null,
        hits: [],
        isVoice: false,
      },
      fittable: {
        kind: 'oneshot',
        tempoBpm: null,
        bars: null,
        beatsPerBar: null,
        key: null,
        tuningCents: null,
        isUnpitched: true,
      },
    },
  };
}

function room(pieces: readonly Piece[]) {
  const { stage, fits, rises, ...rest } = soundRoom(RATE);
  const facts = new Map(pieces.map((one, i) => [ID(i + 1), one.facts]));
  const scored = (blend: Blend) => scoreOf(blend, facts);
  return {
    ...rest,
    fits,
    scored,
    onRuler: new OnRuler(stage, fits),
    ruler: (blend: Blend): Ruler => rulerOf('blend 1', blend, scored(blend)),
    /** Where something rises out of silence, seconds after the first frame that was asked for. */
    attacks: () => rises(0.2).map((frame) => (frame - FADE_FRAMES) / RATE),
  };
}

async function decode(pieces: readonly Piece[]) {
  for (const [i, { samples }] of pieces.entries()) await decodeOf(ID(i + 1), samples, RATE);
}
const lane = (n: number, more: Partial<LaneInput> = {}) =>
  newLane({ laneId: `lane${n}`, sampleId: ID(n), name: `Sample ${n}`, times: null, ...more });
const blendOf = (tempoBpm: number, ...lanes: ReturnType<typeof lane>[]): Blend => ({
  ...emptyBlend('Rain'),
  tempoBpm,
  lanes,
  lead: 'lane1',
  round: null,
});

/** Begins to play a blend of these. */
async function begun(pieces: readonly Piece[], blend: Blend, from = 0) {
  const all = room(pieces);
  const playing = all.onRuler.play(all.ruler(blend), from);
  await decode(pieces);
  await playing;
  return all;
}

test('two loops of 88.402 and 117 BPM meet on every beat, and go on doing so when the tempo changes', async () => {
  const pieces = [loop(88.402, 1), loop(117, 1)];
  const blend = blendOf(88.402, lane(1), lane(2, { pan: 0 }));
  const { onRuler, listen, attacks, ruler, heard } = await begun(pieces, {
    ...blend,
    round: { from: 1, to: 1 },
  });
  listen(3.2);
  const before = attacks();
  expect(before.length).toBeGreaterThanOrEqual(4);
  before.forEach((time, i) => expect(Math.abs(time - (i * 60) / 88.402)).toBeLessThan(0.001));
  // Both are on it: twice as loud as one.
  expect(Math.abs(heard[FADE_FRAMES])).toBeGreaterThan(0.8);
  const changing = onRuler.change(ruler({ ...blend, tempoBpm: 101, round: { from: 1, to: 1 } }));
  await settle();
  await changing;
  listen(6);
  const after = attacks().slice(before.length + 1);
  expect(after.length).toBeGreaterThanOrEqual(8);
  after.forEach((time, i) => expect(Math.abs(time - after[0] - (i * 60) / 101)).toBeLessThan(0.001));
  expect(attacks()[before.length] - before[before.length - 1]).toBeGreaterThan(60 / 101 - 0.001);
  expect(attacks()[before.length] - before[before.length - 1]).toBeLessThan(60 / 88.402 + 0.001);
});

test('what is heard is what a render mixes, sample by sample', async () => {
  const pieces = [loop(96, 1), loop(117, 2), tone(1)];
  const blend = blendOf(
    96,
    lane(1, { pan: -0.4, levelDb: -2 }),
    lane(2),
    lane(3, { times: 2, at: 1, held: 'bars' }),
  );
  const { listen, heard, scored } = await begun(pieces, blend);
  const score = scored(blend);
  const hearing = (i: number) => hearingOf(score.lanes[i].lane, blend.lanes);
  const parts = score.lanes.flatMap((one, i) => {
    const steps = partsFitted(one.parts, [pieces[i].samples], RATE);
    let step = steps.next();
    while (!step.done) step = steps.next();
    return [...step.value].map(([part, channels]) => ({ part, channels, hearing: hearing(i) }));
  });
  const [left] = mixed(parts, { from: 0, to: score.seconds, rate: RATE });
  listen(score.seconds + 0.1);
  let apart = 0;
  for (let n = 0; n < left.length; n++) apart = Math.max(apart, Math.abs(left[n] - heard[FADE_FRAMES + n]));
  expect(left.length).toBe(Math.round(8 * (60 / 96) * RATE) * 1);
  expect(apart).toBeLessThan(1e-6);
});

test('a count-in clicks solo, and a pickup is heard with its bar', async () => {
  const pieces = [loop(96, 2)];
  pieces[0].facts.settled = {
    ...pieces[0].facts.settled,
    kind: 'song',
    grid: { ...pieces[0].facts.settled.grid!, one: 1.25 },
  };
  const all = room(pieces);
  const blend = { ...blendOf(96, lane(1, { times: 1 })), round: null };
  const ruler = all.ruler(blend);
  expect(ruler.begins).toBeCloseTo(-1.25);
  const playing = all.onRuler.play(ruler, ruler.begins, -2.5);
  await decode(pieces);
  await playing;
  all.listen(4);
  // Silence for the first half of the counted bar, then every beat of the song.
  expect(all.attacks()[0]).toBeCloseTo(1.25, 2);
  all.attacks().forEach((time, i) => expect(Math.abs(time - 1.25 - (i * 60) / 96)).toBeLessThan(0.002));
});

test('it ends with its last bar where nothing loops', async () => {
  const pieces = [loop(96, 1)];
  const { listen, mixer, attacks } = await begun(pieces, blendOf(96, lane(1, { times: 2 })));
  listen(6);
  expect(mixer.playing).toBe(false);
  expect(attacks()).toHaveLength(8);
});

test('an incoming sample comes in while it plays, in its place, and nothing stops', async () => {
  const pieces = [loop(96, 1), loop(117, 1)];
  const one = { ...blendOf(96, lane(1)), round: { from: 1, to: 1 } };
  const { onRuler, listen, ruler, heard } = await begun(pieces.slice(0, 1), one);
  listen(2);
  const both = room(pieces);
  const changing = onRuler.change(both.ruler({ ...one, lanes: [lane(1), lane(2)] }));
  await settle();
  await changing;
  listen(1);
  const alone = Math.max(...heard.slice(-4000).map(Math.abs));
  DecoderStandIn.of(ID(2))!.answer(decoded([pieces[1].samples], [pieces[1].samples], RATE));
  await settle();
  listen(3);
  const together = Math.max(...heard.slice(-12000).map(Math.abs));
  expect(together).toBeGreaterThan(1.7 * alone);
  expect(ruler(one).voices).toHaveLength(1);
});

test('what is prepared is there when it is played', async () => {
  const pieces = [loop(96, 1), loop(117, 2)];
  const { onRuler, ruler, fits, mixer } = room(pieces);
  const blend = ruler(blendOf(96, lane(1), lane(2)));
  onRuler.prepare(blend);
  await decode(pieces);
  const made = blend.voices.map(({ sampleId, durationSeconds, part }) =>
    fits.take({ sampleId, durationSeconds, plan: part.plan }),
  );
  expect(made.every((fit) => fit.isWhole)).toBe(true);
  const playing = onRuler.play(blend, 0);
  // Not a turn of the loop is waited for.
  await Promise.resolve();
  await playing;
  expect(mixer.playing).toBe(true);
});

test('no more is prepared than is sensible, and what is not wanted any more is let go', () => {
  const lengths = [50, 70, 50, 50, 50, 50, 50, 20];
  const { onRuler, ruler } = room(lengths.map((seconds) => tone(seconds)));
  onRuler.prepare(ruler(blendOf(96, ...lengths.map((_, i) => lane(i + 1, { times: 1 })))));
  const isAsked = () =>
    lengths.map((_, i) => {
      const decoder = DecoderStandIn.of(ID(i + 1));
      return decoder !== undefined && !decoder.ended;
    });
  expect(isAsked()).toEqual([true, false, true, true, true, true, true, false]);
  onRuler.prepare(ruler(blendOf(96, lane(1, { times: 1 }))));
  expect(isAsked()).toEqual([true, false, false, false, false, false, false, false]);
  onRuler.prepare(null);
  expect(isAsked()).not.toContain(true);
});

test('what loops is heard from the middle of its turn before all of it is made', async () => {
  const pieces = [loop(96, 1), loop(117, 16)];
  const one = { ...blendOf(96, lane(1)), round: { from: 1, to: 16 } };
  const { onRuler, listen, fits, heard } = await begun(pieces.slice(0, 1), one);
  listen(6);
  const alone = Math.max(...heard.map(Math.abs));
  const ruler = room(pieces).ruler({ ...one, lanes: [lane(1), lane(2)] });
  const changing = onRuler.change(ruler);
  await settle();
  await changing;
  DecoderStandIn.of(ID(2))!.answer(decoded([pieces[1].samples], [pieces[1].samples], RATE));
  const { sampleId, durationSeconds, part } = ruler.voices[1];
  expect(part.isLooping).toBe(true);
  const fit = fits.take({ sampleId, durationSeconds, plan: part.plan });
  // The clock goes on while it is being made.
  const isHeard = () => Math.max(...heard.slice(-BLOCK).map(Math.abs)) > 1.3 * alone;
  for (; !isHeard() && !fit.isWhole; listen(BLOCK / RATE)) await new Promise(setImmediate);
  expect(fit.made).toBeGreaterThan(4 * RATE);
  expect(fit.made).toBeLessThan(0.7 * fit.length);
});

test('a lane that comes later and is not there yet is heard all the same after a change', async () => {
  const pieces = [loop(96, 2), loop(117, 2)];
  const blend = blendOf(96, lane(1, { times: 2 }), lane(2, { at: 8, times: 1 }));
  const { onRuler, listen, ruler, heard } = room(pieces);
  const playing = onRuler.play(ruler(blend), 0);
  await decode(pieces.slice(0, 1));
  await playing;
  listen(1);
  const changing = onRuler.change(ruler({ ...blend, tempoBpm: 100 }));
  await settle();
  await changing;
  await decodeOf(ID(2), pieces[1].samples, RATE);
  const from = heard.length;
  listen(8);
  // Both beat together from bar 3 on: twice as loud as one.
  expect(Math.max(...heard.slice(from + 5 * RATE).map(Math.abs))).toBeGreaterThan(0.8);
});

test('level and mute are checked at once, and the voice goes on', async () => {
  const pieces = [loop(96, 1)];
  const blend = { ...blendOf(96, lane(1)), round: { from: 1, to: 1 } };
  const { onRuler, listen, ruler, attacks, heard } = await begun(pieces, blend);
  listen(1.5);
  await onRuler.change(ruler({ ...blend, lanes: [lane(1, { levelDb: -6.0206 })] }));
  const from = heard.length;
  listen(2);
  const times = attacks();
  times.forEach((time, i) => expect(Math.abs(time - (i * 60) / 96)).toBeLessThan(0.001));
  expect(Math.max(...heard.slice(from + BLOCK).map(Math.abs))).toBeCloseTo(0.225, 2);
  await onRuler.change(ruler({ ...blend, lanes: [lane(1, { muted: true })] }));
  listen(0.1);
  const silentFrom = heard.length;
  listen(2);
  expect(Math.max(...heard.slice(silentFrom).map(Math.abs))).toBe(0);
});

test('bars that loop are unmuted from their first frame, whole', async () => {
  const pieces = [loop(96, 4)];
  const bar = (4 * 60) / 96;
  const blend = { ...blendOf(96, lane(1)), round: { from: 2, to: 2 } };
  const { onRuler, listen, attacks, heard } = await begun(pieces, blend, bar);
  listen(3 * bar);
  attacks().forEach((time, i) => expect(Math.abs(time - (i * 60) / 96)).toBeLessThan(0.001));
  // A turn does not break what sounds, nor what begins: the first hit of the second round is as loud as that of the first.
  const turn = FADE_FRAMES + Math.round(bar * RATE);
  expect(Math.abs(heard[turn])).toBeCloseTo(0.45, 3);
  expect(onRuler.placeAt(Math.round(2.5 * bar * RATE))).toBeCloseTo(1.5 * bar, 3);
});

test('what is position in time stands on its frame, whatever the tempo', async () => {
  const pieces = [loop(96, 4), tone(1)];
  for (const bpm of [90, 120]) {
    const blend = blendOf(
      bpm,
      lane(1, { muted: true }),
      lane(2, { held: 'time', atSeconds: 1.25, times: 1 }),
    );
    const { listen, heard } = await begun(pieces, blend);
    listen(3);
    const first = heard.findIndex((value) => value !== 0);
    expect(first - FADE_FRAMES).toBe(1.25 * RATE + 1);
    for (let n = 0; n < RATE; n++)
      expect(heard[FADE_FRAMES + 1.25 * RATE + n]).toBeCloseTo(pieces[1].samples[n], 6);
  }
});

test('of two changes that come at once the last one stands', async () => {
  const pieces = [loop(96, 1)];
  const blend = { ...blendOf(96, lane(1)), round: { from: 1, to: 1 } };
  const { onRuler, listen, ruler, attacks } = await begun(pieces, blend);
  listen(1);
  const all = [110, 90, 104].map((tempoBpm) => onRuler.change(ruler({ ...blend, tempoBpm })));
  await settle();
  await Promise.all(all);
  const before = attacks().length;
  listen(5);
  const after = attacks().slice(before + 1);
  after.forEach((time, i) => expect(Math.abs(time - after[0] - (i * 60) / 104)).toBeLessThan(0.001));
  expect(after.length).toBeGreaterThan(5);
});

test('the ruler has a voice for every part, named after its lane', () => {
  const pieces = [loop(96, 1), loop(90, 1)];
  const { scored } = room(pieces);
  const blend = { ...blendOf(96, lane(1), lane(2, { times: 3 })), changes: [{ bar: 2, tempoBpm: 100 }] };
  const { voices } = rulerOf('b', blend, scored(blend));
  expect(voices.map(({ key }) => key)).toEqual([
    'lane1#0',
    'lane1#1',
    'lane1#2',
    'lane2#0',
    'lane2#1',
    'lane2#2',
  ]);
  expect(hitsOf(scored(blend).lanes[1])).toHaveLength(12);
});

test('what loops as a whole turns without a seam', async () => {
  const steady = tone(1);
  // Exactly a hundred waves, so that it loops.
  const length = Math.round((2 * 4 * 60 * RATE) / 96);
  steady.samples = Float32Array.from({ length }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 500 * i) / length));
  const pieces = [{ ...loop(96, 2), samples: steady.samples }];
  const blend = { ...blendOf(96, lane(1)), round: { from: 1, to: 2 } };
  const { listen, heard } = await begun(pieces, blend);
  listen(11);
  const wave = (n: number) => 0.4 * Math.sin((2 * Math.PI * 500 * (n - FADE_FRAMES)) / length);
  let apart = 0;
  for (let n = FADE_FRAMES; n < heard.length; n++) apart = Math.max(apart, Math.abs(heard[n] - wave(n)));
  expect(apart).toBeLessThan(1e-5);
});
