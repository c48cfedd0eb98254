import { randomFrom } from '@/demo/random';
import { repitch } from './repitch';
import { spansOf } from './spans';
import { timeMap, toResult } from './timeMap';
import { fitted, timeStretch, type TimeStretch } from './voice';

const RATE = 44100;
const PLAIN: TimeStretch = {
  rate: RATE,
  length: 0,
  semitones: 0,
  attacks: [],
  isLoop: false,
  holdFormants: false,
};
const cents = (ratio: number) => 1200 * Math.log2(ratio);

const tone = (hz: number, seconds: number, phase = 0) =>
  Float32Array.from(
    { length: Math.round(seconds * RATE) },
    (_, i) => 0.4 * Math.sin((2 * Math.PI * hz * i) / RATE + phase),
  );

/** Frequency of the tone in the middle of a signal, by how its phase goes on from one third of it to the next. */
function frequencyOf(samples: Float32Array, near: number): number {
  const size = samples.length >> 2;
  const at = (from: number) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < size; i++) {
      const weight = 1 - Math.cos((2 * Math.PI * i) / size);
      const angle = (2 * Math.PI * near * (from + i)) / RATE;
      re += weight * samples[from + i] * Math.cos(angle);
      im -= weight * samples[from + i] * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  const [first, hop] = [size, size >> 3];
  let angle = at(first + hop) - at(first);
  angle -= 2 * Math.PI * Math.round(angle / (2 * Math.PI));
  return near + (angle * RATE) / (2 * Math.PI * hop);
}

/** What is in the middle of a signal beside a sine of this frequency, dB under it. */
function besideDb(samples: Float32Array, hz: number): number {
  const [from, to] = [samples.length >> 2, (3 * samples.length) >> 2];
  let [re, im, norm] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    const angle = (2 * Math.PI * hz * i) / RATE;
    re += samples[i] * Math.cos(angle);
    im += samples[i] * Math.sin(angle);
    norm += 0.5;
  }
  let rest = 0;
  let all = 0;
  for (let i = from; i < to; i++) {
    const angle = (2 * Math.PI * hz * i) / RATE;
    const fit = (re * Math.cos(angle) + im * Math.sin(angle)) / norm;
    rest += (samples[i] - fit) ** 2;
    all += fit ** 2;
  }
  return 10 * Math.log10(rest / all);
}

/** Noise hits with short tails at these places. */
function hits(places: readonly number[], length: number, seed = 5): Float32Array {
  const random = randomFrom(seed);
  const samples = new Float32Array(length);
  for (const place of places)
    for (let i = 0; i < 4000 && place + i < length; i++)
      samples[place + i] += 0.5 * (random() - 0.5) * Math.exp(-i / 700);
  return samples;
}

/** Whether two signals are the same to the bit; far quicker than a comparison that can tell the difference. */
const isSame = (a: Float32Array, b: Float32Array) =>
  Buffer.from(a.buffer, a.byteOffset, a.byteLength).equals(Buffer.from(b.buffer, b.byteOffset, b.byteLength));

const HITS = [3000, 14_000, 25_500, 37_000, 48_200];
const drums = hits(HITS, 60_000);

test('where nothing is asked the result is the source, to the bit', () => {
  expect(fitted([drums], { ...PLAIN, length: drums.length, attacks: HITS })[0]).toEqual(drums);
});

test.each([0.25, 0.5, 0.77, 1.3, 2, 4])('at %d the length is exact, and finite throughout', (ratio) => {
  const length = Math.round(drums.length * ratio) + 1;
  const [out] = fitted([drums], { ...PLAIN, length, attacks: HITS });
  expect(out).toHaveLength(length);
  expect(out.every(Number.isFinite)).toBe(true);
});

test.each([
  [0.75, 0],
  [1.5, 0],
  [1, 7],
  [1, -7],
  [1.25, 0.37],
])(
  'a tone at %d and %d semitones has its pitch to 0.05 cents and nothing beside it above −60 dB',
  (ratio, semitones) => {
    const hz = 443.7;
    const source = tone(hz, 2);
    const [out] = fitted([source], { ...PLAIN, length: Math.round(source.length * ratio), semitones });
    // The pitch is that of a whole number of frames, which is off by less than a hundredth of a cent.
    const wanted = hz * 2 ** (semitones / 12);
    const found = frequencyOf(out, wanted);
    expect(Math.abs(cents(found / wanted))).toBeLessThan(0.05);
    expect(besideDb(out, found)).toBeLessThan(-60);
  },
);

test.each([0.8, 1.25, 1.5])('at %d each hit stands where it is to stand and sounds as recorded', (ratio) => {
  const [out] = fitted([drums], { ...PLAIN, length: Math.round(drums.length * ratio), attacks: HITS });
  for (const place of HITS) {
    const there = Math.round(place * ratio);
    // The first 8 ms are the source's own.
    for (let i = 0; i < 350; i++) expect(Math.abs(out[there + i] - drums[place + i])).toBeLessThan(1e-3);
    // Before it there is silence, as in the source: no echo comes ahead.
    const before = out.subarray(there - 900, there - 50);
    expect(Math.max(...before.map(Math.abs))).toBeLessThan(0.01);
  }
});

test('attacks that are known a little wrongly are heard all the same', () => {
  const wrong = HITS.map((place, i) => place + (i % 2 ? 13 : -13));
  const [out] = fitted([drums], { ...PLAIN, length: 75_000, attacks: wrong });
  HITS.forEach((place, i) => {
    const shift = Math.round(wrong[i] * 1.25) - Math.round(wrong[i]);
    for (let k = 0; k < 300; k++)
      expect(Math.abs(out[place + shift + k] - drums[place + k])).toBeLessThan(1e-3);
  });
});

test.each([0.75, 1.5])('a tone that glides is nowhere early or late: at %d', (ratio) => {
  const [hz, rise] = [300, 40];
  const glide = Float32Array.from({ length: 2 * RATE }, (_, i) => {
    const time = i / RATE - 1;
    return 0.4 * Math.sin(2 * Math.PI * (hz + (rise / 2) * time) * time);
  });
  const length = Math.round(glide.length * ratio);
  const [out] = fitted([glide], { ...PLAIN, length });
  // It is told 25/64 of the way into a piece.
  const inMiddle = (samples: Float32Array) =>
    frequencyOf(samples.subarray(samples.length / 2 - 3200, samples.length / 2 + 4992), hz);
  // Heard only before each frame it would be 2 ms late: 0.07 Hz.
  expect(Math.abs(inMiddle(out) - inMiddle(glide))).toBeLessThan(0.05);
});

test('a tone that sounds through a hit goes on through it', () => {
  const length = 88_200;
  // At the hit the result is half a turn ahead of the source.
  const pad = tone(331.7, 2);
  const both = hits([44_100], length).map((value, i) => value + pad[i]);
  const [out] = fitted([both], { ...PLAIN, length: Math.round(length * 1.3), attacks: [44_100] });
  // Away from the hit the tone is one tone: its phase does not jump.
  const [from, to] = [30_000, 85_000];
  const angleAt = (start: number) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < 4009; i++) {
      const angle = (2 * Math.PI * 331.7 * (start + i)) / RATE;
      re += out[start + i] * Math.cos(angle);
      im += out[start + i] * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  let jump = angleAt(to) - angleAt(from);
  jump -= 2 * Math.PI * Math.round(jump / (2 * Math.PI));
  expect(Math.abs(jump)).toBeLessThan(0.6);
});

test('channels stay together: what stood between them stands between them', () => {
  const left = tone(250, 1.5);
  const right = tone(250, 1.5, 0.7);
  const [a, b] = fitted([left, right], { ...PLAIN, length: 80_000 });
  const angle = (samples: Float32Array) => {
    let [re, im] = [0, 0];
    for (let i = 20_000; i < 60_000; i++) {
      re += samples[i] * Math.cos((2 * Math.PI * 250 * i) / RATE);
      im -= samples[i] * Math.sin((2 * Math.PI * 250 * i) / RATE);
    }
    return Math.atan2(im, re);
  };
  const between = angle(b) - angle(a);
  expect(Math.abs(between - 2 * Math.PI * Math.round((between - 0.7) / (2 * Math.PI)) - 0.7)).toBeLessThan(
    0.01,
  );
});

test('what stands against itself in two channels is bent as in one', () => {
  // Nothing is left of their sum: what is heard of it alone would tell neither period nor level.
  const asked = { ...PLAIN, length: 75_000, attacks: HITS };
  const [left, right] = fitted([drums, drums.map((value) => -value)], asked);
  const [alone] = fitted([drums], asked);
  let off = 0;
  for (let i = 0; i < alone.length; i++)
    off = Math.max(off, Math.abs(alone[i] - left[i]), Math.abs(left[i] + right[i]));
  expect(off).toBeLessThan(1e-5);
});

test.each([8000, 22_050, 96_000, 192_000])(
  'at %d Hz hits stand where they are to stand, tones where they were',
  (rate) => {
    const places = HITS.map((place) => Math.round((place * rate) / RATE));
    const length = Math.round((60_000 * rate) / RATE);
    const source = new Float32Array(length);
    const random = randomFrom(9);
    for (const place of places)
      for (let i = 0; i < 0.09 * rate && place + i < length; i++)
        source[place + i] += 0.5 * (random() - 0.5) * Math.exp((-i / rate) * 60);
    const [out] = fitted([source], { ...PLAIN, rate, length: Math.round(length * 1.25), attacks: places });
    for (const place of places) {
      const there = Math.round(place * 1.25);
      for (let i = 0; i < 0.008 * rate; i++)
        expect(Math.abs(out[there + i] - source[place + i])).toBeLessThan(1e-3);
    }
    const pitch = Float32Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / rate));
    const [longer] = fitted([pitch], { ...PLAIN, rate, length: Math.round(length * 1.25) });
    // As if it were at the usual rate: the same frequency by the frame.
    const near = (440 * RATE) / rate;
    expect(Math.abs(cents(frequencyOf(longer, near) / near))).toBeLessThan(0.05);
  },
);

test('six channels come out as six, each in its own place', () => {
  const six = [200, 300, 400, 500, 600, 700].map((hz) => tone(hz, 1));
  const out = fitted(six, { ...PLAIN, length: 60_000, semitones: 2 });
  expect(out).toHaveLength(6);
  out.forEach((samples, c) => {
    const wanted = (200 + 100 * c) * 2 ** (2 / 12);
    expect(Math.abs(cents(frequencyOf(samples, wanted) / wanted))).toBeLessThan(0.1);
  });
});

test('a loop loops without a trace: its end meets its beginning', () => {
  const bars = 88_200;
  // Both loop in the source.
  const pad = Float32Array.from(
    { length: bars },
    (_, i) =>
      0.2 * Math.sin((2 * Math.PI * 440 * i) / bars) + 0.2 * Math.sin((2 * Math.PI * 661 * i) / bars + 1),
  );
  const [out] = fitted([pad], { ...PLAIN, length: 104_321, isLoop: true });
  const bend = (i: number) => {
    const at = (k: number) => out[((k % out.length) + out.length) % out.length];
    return Math.abs(at(i - 1) - 2 * at(i) + at(i + 1));
  };
  let usual = 0;
  for (let i = 1000; i < 9000; i++) usual = Math.max(usual, bend(i));
  for (let i = -3; i <= 3; i++) expect(bend(i)).toBeLessThan(1.1 * usual);
});

test('a full-scale offset stays what it is', () => {
  const [out] = fitted([new Float32Array(40_000).fill(0.5)], { ...PLAIN, length: 50_000 });
  for (const value of out.subarray(5000, 45_000)) expect(value).toBeCloseTo(0.5, 2);
});

test('with pitch following speed: twice as fast is an octave higher', () => {
  const source = tone(300, 2);
  const [out] = fitted([source], { ...PLAIN, length: source.length / 2, tape: true });
  expect(Math.abs(cents(frequencyOf(out, 600) / 600))).toBeLessThan(0.01);
  expect(besideDb(out, 600)).toBeLessThan(-90);
});

test('what would fold back is not read: above half the rate there is nothing', () => {
  const out = new Float32Array(11_000);
  repitch([tone(15_000, 0.5)], [out], 0, out.length, {
    at: (frame) => 1.9 * frame,
    step: 1.9,
    isLoop: false,
  });
  expect(Math.max(...out.subarray(500, 10_500).map(Math.abs))).toBeLessThan(1e-4);
});

test('held formants stay where they are while the pitch moves', () => {
  // A voice of 110 Hz with one formant at 800 Hz.
  const formant = (hz: number) => 1 / (1 + ((hz - 800) / 90) ** 2);
  const voice = new Float32Array(88_200);
  for (let k = 1; k * 110 < 5000; k++)
    for (let i = 0; i < voice.length; i++)
      voice[i] += 0.3 * formant(k * 110) * Math.sin((2 * Math.PI * 110 * k * i) / RATE + k * k);
  const loudest = (samples: Float32Array, pitch: number) => {
    let best = 0;
    let at = 0;
    for (let k = 1; k * pitch < 3000; k++) {
      let [re, im] = [0, 0];
      for (let i = 20_000; i < 60_000; i++) {
        re += samples[i] * Math.cos((2 * Math.PI * pitch * k * i) / RATE);
        im += samples[i] * Math.sin((2 * Math.PI * pitch * k * i) / RATE);
      }
      if (re * re + im * im > best) [best, at] = [re * re + im * im, k * pitch];
    }
    return at;
  };
  const up = 110 * 2 ** (7 / 12);
  const asked = { ...PLAIN, length: voice.length, semitones: 7 };
  expect(Math.abs(loudest(fitted([voice], asked)[0], up) - 1200)).toBeLessThan(90);
  expect(Math.abs(loudest(fitted([voice], { ...asked, holdFormants: true })[0], up) - 800)).toBeLessThan(90);
});

test.each<[string, Float32Array[], Partial<TimeStretch>]>([
  ['no sound', [], { length: 10 }],
  ['channels of unequal length', [new Float32Array(5), new Float32Array(6)], { length: 10 }],
  ['no length', [drums], { length: 0 }],
  ['half a frame', [drums], { length: 10.5 }],
  ['more than four times as long', [drums], { length: drums.length * 5 }],
  ['no rate', [drums], { length: drums.length + 1, rate: 0 }],
  ['three octaves', [drums], { length: drums.length, semitones: 36 }],
])('%s is refused with its figure', (_, source, asked) => {
  expect(() => fitted(source, { ...PLAIN, ...asked })).toThrow(RangeError);
});

test('a hit on the turn of what loops is known, though nobody said so; a tone that goes on is none', () => {
  const loop = hits([0, ...HITS.slice(1)], 60_000);
  const asked = { ...PLAIN, length: 70_000, isLoop: true };
  const told = fitted([loop], { ...asked, attacks: [0, ...HITS.slice(1)] })[0];
  expect(isSame(fitted([loop], { ...asked, attacks: HITS.slice(1) })[0], told)).toBe(true);
  const round = tone((RATE * 300) / 60_000, 60_000 / RATE);
  const [out] = fitted([round], { ...asked, attacks: [] });
  expect(besideDb(out, (RATE * 350) / 70_000)).toBeLessThan(-60);
});

describe('along a map', () => {
  // Quicker and slower in turn, as a player is; the end is where it was.
  const map = timeMap([0, 9000, 20_000, 31_000, 45_000, 60_000], [0, 11_000, 19_000, 33_500, 44_200, 60_000]);

  test('each hit stands where the map says, and sounds as recorded', () => {
    const [out] = fitted([drums], { ...PLAIN, length: 60_000, attacks: HITS, map });
    for (const place of HITS) {
      const there = Math.round(toResult(map, place));
      expect(isSame(out.subarray(there + 40, there + 390), drums.subarray(place + 40, place + 390))).toBe(
        true,
      );
      expect(out.subarray(there - 1500, there - 60).every((value) => Math.abs(value) < 0.01)).toBe(true);
    }
  });

  test.each([false, true])('a tone keeps its pitch, going round: %s', (isLoop) => {
    const hz = (RATE * 600) / 60_000;
    const source = tone(hz, 60_000 / RATE);
    const [out] = fitted([source], { ...PLAIN, length: 60_000, map, isLoop });
    const found = frequencyOf(out, hz);
    expect(Math.abs(cents(found / hz))).toBeLessThan(0.3);
    expect(besideDb(out, found)).toBeLessThan(-45);
  });

  test('with pitch following speed, what stands at a knot stands where the map says', () => {
    const clicks = new Float32Array(60_000);
    for (const place of map.source.slice(1, -1)) clicks[place] = 1;
    const [out] = fitted([clicks], { ...PLAIN, length: 60_000, map, tape: true });
    for (const place of map.result.slice(1, -1)) {
      const near = out.subarray(place - 400, place + 400);
      expect(near.indexOf(Math.max(...near))).toBe(400);
    }
  });

  test('what is too long to be made at once is made in pieces that cannot be heard', () => {
    const hz = 330;
    const source = tone(hz, 6);
    const [out] = fitted([source], { ...PLAIN, length: Math.round(source.length * 1.2) });
    expect(besideDb(out, frequencyOf(out, hz))).toBeLessThan(-60);
  });
});

describe('step by step', () => {
  const pad = tone(220, 5);
  test.each<[string, Float32Array, Partial<TimeStretch>]>([
    ['hits', drums, { length: 75_000, attacks: HITS }],
    ['hits that go round', drums, { length: 75_000, attacks: HITS, isLoop: true }],
    ['one hit that goes round', drums, { length: 75_000, attacks: [0], isLoop: true }],
    ['hits that go round, higher', drums, { length: 75_000, attacks: HITS, isLoop: true, semitones: 5 }],
    [
      'a hit at the turn, lower',
      drums,
      { length: 50_000, attacks: [0, ...HITS], isLoop: true, semitones: -4 },
    ],
    ['a long tone, higher', pad, { length: pad.length, semitones: 3 }],
    ['a tape', pad, { length: 100_000, tape: true }],
    ['what is not bent', drums, { length: drums.length, attacks: HITS }],
  ])('%s: what is said to be made stays, and nothing is read before it was asked for', (_, source, asked) => {
    const wanted = { ...PLAIN, ...asked };
    const whole = fitted([source], wanted)[0];
    const out = new Float32Array(wanted.length);
    // Of the source only as much is there as was asked for; what is read beyond would be heard.
    const there = new Float32Array(source.length).fill(0.9);
    let steps = 0;
    for (const { made, needs } of timeStretch([there], wanted, [out])) {
      expect(isSame(out.subarray(0, made), whole.subarray(0, made))).toBe(true);
      there.set(source.subarray(0, needs));
      steps++;
    }
    expect(isSame(out, whole)).toBe(true);
    expect(steps).toBeGreaterThan(0);
  });

  test('a long sample can be heard long before all of it is made', () => {
    const source = tone(200, 20);
    const wanted = { ...PLAIN, length: Math.round(source.length * 1.1) };
    const steps = [...timeStretch([source], wanted, [new Float32Array(wanted.length)])];
    expect(steps[1].made).toBeGreaterThan(0);
    expect(steps[1].made).toBeLessThan(2 * RATE);
  });
});

describe('spans', () => {
  const lengths = {
    ...{ size: 60_000, length: 75_000, attacks: HITS, isLoop: false, rate: RATE },
    map: timeMap([0, 60_000], [0, 75_000]),
  };

  test('stand one after another on both sides, from end to end', () => {
    const spans = spansOf(lengths);
    expect(spans[0]).toMatchObject({ from: 0, at: 0 });
    expect(spans.at(-1)).toMatchObject({ to: 60_000, until: 75_000 });
    for (let i = 1; i < spans.length; i++)
      expect([spans[i].from, spans[i].at]).toEqual([spans[i - 1].to, spans[i - 1].until]);
  });

  test('of a loop go once around, beginning before its first attack', () => {
    const spans = spansOf({ ...lengths, attacks: [0, 30_000], isLoop: true });
    expect(spans[0].at).toBeLessThan(0);
    expect(spans.at(-1)!.until - spans[0].at).toBe(75_000);
    expect(spans.at(-1)!.to - spans[0].from).toBe(60_000);
  });

  test.each([0.6, 1.5])(
    'soon after an attack, which is copied, all stands where the map says: at %d',
    (ratio) => {
      const map = timeMap([0, 60_000], [0, 60_000 * ratio]);
      const spans = spansOf({ ...lengths, length: 60_000 * ratio, map, attacks: [20_000] });
      const { path } = spans.find(({ from, struck }) => from > 20_000 && !struck)!;
      for (const place of [20_600, 27_000, 50_000])
        expect(Math.abs(toResult(path, place) - ratio * place)).toBeLessThan(place < 21_000 ? 230 : 1);
    },
  );

  test('where time nearly stands after an attack nothing is caught up with', () => {
    const map = timeMap([0, 20_000, 26_000, 60_000], [0, 20_000, 20_100, 75_000]);
    const spans = spansOf({ ...lengths, map, attacks: [20_000] });
    expect(spans.at(-1)).toMatchObject({ to: 60_000, until: 75_000 });
  });

  test('attacks that lie too near to each other are one; those outside are none', () => {
    const spans = spansOf({ ...lengths, attacks: [20_000, 20_100, -5, 70_000, NaN] });
    expect(spans.filter(({ struck }) => struck)).toHaveLength(1);
  });
});

test('a roll of quick hits made more than twice as long does not crack', () => {
  const size = 14_079;
  const random = randomFrom(41);
  const roll = new Float32Array(size);
  const attacks = Array.from({ length: 26 }, (_, hit) => Math.floor((hit * size) / 26));
  attacks.forEach((at, hit) => {
    for (let i = 0; i < 2500; i++) {
      const body = hit % 2 ? 0 : 0.5 * Math.sin((2 * Math.PI * 60 * i) / RATE) * Math.exp(-i / 1600);
      roll[(at + i) % size] += body + (hit % 2 ? 0.2 : 0.3) * (random() - 0.5) * Math.exp(-i / 300);
    }
  });
  const peak = (samples: Float32Array) => samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  for (const ratio of [1.6, 2.19, 2.7]) {
    const asked = { ...PLAIN, length: Math.round(size * ratio), attacks, isLoop: true };
    expect(peak(fitted([roll], asked)[0])).toBeLessThan(1.35 * peak(roll));
  }
});

test.each([
  [22_050, 3],
  [44_100, 7],
  [11_025, -4],
])(
  'a loop at %i Hz that is struck on its turn has no hole before it, %i semitones away',
  (rate, semitones) => {
    const ground = 0.3;
    const loop = new Float32Array(rate).fill(ground);
    const attacks = [0, 1, 2, 3].map((beat) => Math.round((beat * rate) / 4));
    for (const at of attacks)
      for (let i = 0; i < 400; i++) loop[at + i] += 0.5 * Math.exp(-i / 60) * Math.sin(0.9 * i);
    const asked = { ...PLAIN, rate, length: rate, semitones, attacks, isLoop: true };
    const [out] = fitted([loop], asked);
    // What does not move keeps its level, whatever becomes of the rest: also in the millisecond before the turn.
    const least = out.subarray(rate - Math.round(0.004 * rate)).reduce((a, b) => Math.min(a, b), 1);
    expect(least).toBeGreaterThan(0.8 * ground);
  },
);

test.each([8000, 11_025, 22_050, 44_100])(
  'at %i Hz what lies under hits keeps its level through them',
  (rate) => {
    const ground = 0.3;
    const loop = new Float32Array(2 * rate).fill(ground);
    const attacks = Array.from({ length: 9 }, (_, hit) => Math.round(0.1 * rate + (hit * 1.9 * rate) / 9));
    for (const at of attacks)
      for (let i = 0; i < 0.004 * rate; i++)
        loop[at + i] += 0.02 * Math.exp(-i / (0.0006 * rate)) * (i % 2 ? -1 : 1);
    const [out] = fitted([loop], { ...PLAIN, rate, length: Math.round(2.6 * rate), attacks, isLoop: true });
    expect(out.reduce((a, b) => Math.min(a, b), 1)).toBeGreaterThan(0.8 * ground);
    expect(out.reduce((a, b) => Math.max(a, b), 0)).toBeLessThan(1.2 * ground);
  },
);
