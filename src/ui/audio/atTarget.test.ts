import { planOf, type Settled } from '@/core/timeStretch/plan';
import { proposalFor, type Target } from '@/core/timeStretch/proposal';
import type { Grid } from '@/core/rhythm/grid';
import { DecoderStandIn } from '../../../tests/support/decoderStandIn';
import { installThreads } from '../../../tests/support/fitterStandIn';
import { decode as decodeOf, settle, soundRoom } from '../../../tests/support/soundRoom';
import { AtTarget, type AimedPlay } from './atTarget';

const RATE = 8000;
beforeEach(() => installThreads());

const grid = (tempoBpm: number, one = 0, beatsPerBar = 4): Grid => ({
  ...{ tempoBpm, one, meter: { beatsPerBar, beatUnit: 4 }, movingBeats: null },
});
/** A short burst on each beat, the loudest on each bar. */
function pulses(of: Grid, beats: number, seconds: number): Float32Array {
  const samples = new Float32Array(Math.round(seconds * RATE));
  for (let beat = 0; beat < beats; beat++)
    for (let i = 0; i < 60; i++) {
      const at = Math.round((of.one + (beat * 60) / of.tempoBpm) * RATE) + i;
      if (at < samples.length)
        samples[at] += (beat % of.meter.beatsPerBar === 0 ? 0.9 : 0.6) * Math.cos(i / 2) * Math.exp(-i / 15);
    }
  return samples;
}

interface Piece {
  id: string;
  settled: Settled;
  samples: Float32Array;
}
function piece(id: string, of: Grid, bars: number, kind: 'loop' | 'song' = 'loop'): Piece {
  const beats = bars * of.meter.beatsPerBar;
  const durationSeconds = of.one + (beats * 60) / of.tempoBpm;
  const hits = Array.from({ length: beats }, (_, beat) => of.one + (beat * 60) / of.tempoBpm);
  return {
    id,
    settled: { ...{ kind, durationSeconds, grid: of, loop: null, hits, isVoice: false } },
    samples: pulses(of, beats, durationSeconds),
  };
}

/** A page's engine as far as targets go. */
function room() {
  const { stage, rises, begun, ...rest } = soundRoom(RATE);
  return {
    ...rest,
    stage,
    target: new AtTarget(stage, rest.fits),
    /** Times on the clock at which something rises out of silence, seconds. */
    attacks: () => rises(0.3).map((frame) => (begun() + frame) / RATE),
  };
}

const aimed = ({ id, settled }: Piece, target: Partial<Target>, rest: Partial<AimedPlay> = {}): AimedPlay => {
  const full: Target = { tempoBpm: null, key: null, isTape: false, ...target };
  const facts = {
    kind: settled.kind,
    tempoBpm: settled.grid!.tempoBpm,
    bars: null,
    key: null,
    tuningCents: null,
    beatsPerBar: null,
  };
  const plan = planOf(settled, proposalFor({ ...facts, isUnpitched: false }, full), full);
  return {
    ...{ sampleId: id, durationSeconds: settled.durationSeconds, plan },
    ...{ clock: null, handOver: 'beat', keepsOthers: false, ...rest },
  };
};
const decode = ({ id, samples }: Piece) => decodeOf(id, samples, RATE);

/** Each stands within a millisecond of a beat of this tempo. */
function expectOnBeats(times: readonly number[], bpm: number, from = 0) {
  for (const time of times) {
    const beats = ((time - from) * bpm) / 60;
    expect(Math.abs(beats - Math.round(beats)) * (60_000 / bpm)).toBeLessThan(1);
  }
}

test('a loop loops at the target, each hit on its beat, round after round', async () => {
  const { target, listen, attacks, looked } = room();
  const slow = piece('slow', grid(88.402), 1);
  const playing = target.play(aimed(slow, { tempoBpm: 101.617 }));
  await decode(slow);
  await playing;
  listen(9);
  expect(looked).toEqual(['slow']);
  expect(attacks().length).toBeGreaterThanOrEqual(15);
  expectOnBeats(attacks(), 101.617);
});

test('the next begins on the next beat, and hands over without a hole', async () => {
  const { target, listen, attacks } = room();
  const [first, second] = [piece('first', grid(82), 1), piece('second', grid(113.87, 0.31), 2)];
  const begins = target.play(aimed(first, { tempoBpm: 96 }));
  await decode(first);
  await begins;
  listen(1.1);
  const next = target.play(aimed(second, { tempoBpm: 96 }));
  await decode(second);
  await next;
  listen(4);
  const times = attacks();
  expectOnBeats(times, 96);
  // One on every beat, none missing at the hand-over.
  expect(times.map((time) => Math.round((time * 96) / 60))).toEqual(times.map((_, i) => i));
});

test('from the next bar where that is wanted, its pickup before it', async () => {
  const { target, listen, attacks } = room();
  const first = piece('first', grid(120), 2);
  const song = piece('song', grid(60, 0.4), 2, 'song');
  // A pickup of one hit, half a beat before the one.
  const pickup = pulses(grid(60, 0.15), 1, 4);
  song.samples.set(song.samples.map((value, i) => value + (pickup[i] ?? 0)));
  song.settled.hits = [0.15, ...song.settled.hits];
  const begins = target.play(aimed(first, { tempoBpm: 120 }));
  await decode(first);
  await begins;
  listen(0.6);
  const next = target.play(aimed(song, { tempoBpm: 120 }, { handOver: 'bar' }));
  await decode(song);
  await next;
  listen(3);
  const times = attacks();
  // Its bar begins at 2 s; 60 BPM is felt at double time.
  expect(times.some((time) => Math.abs(time - 1.75) < 0.002)).toBe(true);
  expectOnBeats(
    times.filter((time) => time > 1.9),
    120,
  );
});

test('several sound together where that is wanted', async () => {
  const { target, listen, heard } = room();
  const [first, second] = [piece('first', grid(100), 1), piece('second', grid(100), 1)];
  const begins = target.play(aimed(first, { tempoBpm: 100 }));
  await decode(first);
  await begins;
  listen(0.3);
  const alone = Math.max(...heard);
  const next = target.play(aimed(second, { tempoBpm: 100 }, { keepsOthers: true }));
  await decode(second);
  await next;
  listen(3);
  expect(target.sampleIds).toEqual(['first', 'second']);
  // The first of the second stands on the second of the first.
  expect(alone).toBeCloseTo(0.9, 2);
  expect(Math.max(...heard)).toBeCloseTo(0.9 + 0.6, 2);
  target.leave('first');
  expect(target.sampleIds).toEqual(['second']);
  // The last one stays.
  target.leave('second');
  expect(target.sampleIds).toEqual(['second']);
  const before = heard.length;
  listen(3);
  expect(Math.max(...heard.slice(before + RATE / 2))).toBeLessThan(1);
});

test('a target that changes is checked at once, from where it is', async () => {
  const { target, listen, attacks } = room();
  const loop = piece('loop', grid(90), 2);
  const begins = target.play(aimed(loop, { tempoBpm: 90 }));
  await decode(loop);
  await begins;
  listen(1.7);
  await Promise.all([target.retarget(new Map([['loop', aimed(loop, { tempoBpm: 110 })]])), settle()]);
  listen(4);
  const times = attacks();
  const steps = times.slice(1).map((time, i) => time - times[i]);
  const turn = times.findIndex((_, i) => i > 0 && Math.abs(steps[i] - 60 / 110) < 0.002);
  expect(turn).toBeGreaterThan(1);
  for (const step of steps.slice(0, turn - 1)) expect(step).toBeCloseTo(60 / 90, 2);
  for (const step of steps.slice(turn)) expect(step).toBeCloseTo(60 / 110, 2);
  // The one step in which it changed is neither shorter nor longer than both.
  expect(steps[turn - 1]).toBeGreaterThan(60 / 110 - 0.002);
  expect(steps[turn - 1]).toBeLessThan(60 / 90 + 0.002);
});

test('what was prepared is played at once, and preparing others does not stop it', async () => {
  const { target, listen, attacks } = room();
  const [first, second, third] = ['first', 'second', 'third'].map((id) => piece(id, grid(100), 1));
  const at = { tempoBpm: 110 };
  target.prepare([aimed(first, at)]);
  const playing = target.play(aimed(first, at));
  target.prepare([aimed(first, at), aimed(second, at)]);
  target.prepare([aimed(second, at), aimed(third, at)]);
  await decode(first);
  await playing;
  listen(1);
  expect(attacks().length).toBeGreaterThan(0);
  await decode(second);
  await target.play(aimed(second, at));
  listen(2);
  expectOnBeats(attacks(), 110);
});

test('what is asked last is played; what was asked before and comes late is not', async () => {
  const { target, listen, looked } = room();
  const [first, second] = [piece('first', grid(100), 1), piece('second', grid(100), 1)];
  const early = target.play(aimed(first, {}));
  const late = target.play(aimed(second, {}));
  await decode(second);
  await decode(first);
  await Promise.all([early, late]);
  listen(1);
  expect(looked).toEqual(['second']);
  expect(target.sampleIds).toEqual(['second']);
});

test('what cannot be decoded is said, and what sounds goes on', async () => {
  const { target, listen, faults } = room();
  const [first, second] = [piece('first', grid(100), 1), piece('second', grid(100), 1)];
  const begins = target.play(aimed(first, {}));
  await decode(first);
  await begins;
  listen(1);
  const broken = target.play(aimed(second, {}));
  DecoderStandIn.of('second')!.answer({ kind: 'failed', message: 'The file ends in the middle.' });
  await broken;
  expect(faults).toEqual(['The file ends in the middle.']);
  expect(target.sampleIds).toEqual(['first']);
});

test('from a place of what loops it begins with the bar that the place is in', async () => {
  const { target, listen, attacks } = room();
  const loop = piece('loop', grid(100), 4);
  const begins = target.play(aimed(loop, { tempoBpm: 120 }), 6.1);
  await decode(loop);
  await begins;
  listen(5);
  expectOnBeats(attacks(), 120);
  // Its third bar is at 4.8 s.
  expect(target.placeAt(0)).toBeCloseTo(4.8, 3);
});

test('what is heard is told as a place of the sample', async () => {
  const { target, mixer, listen } = room();
  const loop = piece('loop', grid(100, 0.5), 2);
  const begins = target.play(aimed(loop, { tempoBpm: 50 * 2.4 }));
  await decode(loop);
  await begins;
  listen(2);
  expect(target.placeAt(2 * RATE)).toBeCloseTo(0.5 + 2 * 1.2, 3);
  expect(target.placeAt(mixer.position)).toBeGreaterThan(0.5);
});

test('however often the target is changed while it sounds, only what sounds is held and made', async () => {
  const { target, listen, fits, stage } = room();
  let held = 0;
  const [take, giveBack] = [fits.take.bind(fits), fits.giveBack.bind(fits)];
  fits.take = (...asked) => (held++, take(...asked));
  fits.giveBack = (fit) => (held--, giveBack(fit));
  const song = piece('song', grid(100), 24, 'song');
  const playing = target.play(aimed(song, { tempoBpm: 104 }));
  await decode(song);
  await playing;
  for (let bpm = 105; bpm < 117; bpm++) {
    await Promise.all([target.retarget(new Map([['song', aimed(song, { tempoBpm: bpm })]])), settle()]);
    listen(0.4);
    target.keepUp(stage.now()!);
  }
  expect(held).toBe(1);
});
