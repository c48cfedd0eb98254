import { HARMONY_RATE } from '../harmony/pitchSpectrum';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { randomFrom } from '@/demo/random';
import { measureAudio } from './measure';
import { isSpeech, isSpoken, speechFigures, speechListener } from './speech';

/** Formants of some vowels, Hz. */
const VOWELS = [
  [730, 1090, 2440],
  [530, 1840, 2480],
  [270, 2290, 3010],
  [570, 840, 2410],
];

/** A voice of so many syllables, each with a vowel and then hiss; `pitchAt`: semitones above 130 Hz, by syllable and the share of it. */
function voice(
  rate: number,
  syllables: number,
  syllableSeconds: number,
  pitchAt: (syllable: number, share: number, seconds: number) => number,
): Float32Array {
  const random = randomFrom(3);
  const length = Math.round(syllables * syllableSeconds * rate);
  const out = new Float32Array(length);
  let phase = 0;
  let hissed = 0;
  for (let i = 0; i < length; i++) {
    const place = i / rate / syllableSeconds;
    const syllable = Math.floor(place);
    const share = place - syllable;
    const hz = 130 * 2 ** (pitchAt(syllable, share, i / rate) / 12);
    phase += (2 * Math.PI * hz) / rate;
    const isHiss = share > 0.72;
    const level = isHiss ? 0 : Math.min(1, share / 0.1, (0.72 - share) / 0.08);
    let sum = 0;
    for (let k = 1; k * hz < Math.min(4500, rate / 2); k++)
      sum +=
        (Math.sin(k * phase) / k) *
        VOWELS[syllable % VOWELS.length].reduce(
          (all, formant) => all + 1 / (1 + ((k * hz - formant) / 120) ** 2),
          0.05,
        );
    const noise = random() - 0.5;
    if (isHiss) sum = 0.15 * Math.sin((Math.PI * (share - 0.72)) / 0.28) * (noise - hissed);
    hissed = noise;
    out[i] = 0.3 * (isHiss ? sum : level * sum);
  }
  return out;
}

const wander = randomFrom(8);
const STARTS = Array.from({ length: 40 }, () => 5 * wander());
const FALLS = Array.from({ length: 40 }, () => 2.5 + 2 * wander());
const spoken = (rate: number) => voice(rate, 28, 0.24, (i, share) => STARTS[i] - FALLS[i] * share);
const vibrato = (cents: number) => (seconds: number) => (cents / 100) * Math.sin(2 * Math.PI * 5.4 * seconds);
const TUNE = [0, 4, 7, 5, 4, 2, 0, -1];
const sung = (cents: number) =>
  voice(HARMONY_RATE, 8, 0.7, (i, _, seconds) => TUNE[i] + vibrato(cents)(seconds));

test('a voice that speaks is told from one that sings, with vibrato or without', () => {
  expect(isSpeech(speechFigures(spoken(HARMONY_RATE)))).toBe(true);
  for (const cents of [0, 30, 100]) expect(isSpeech(speechFigures(sung(cents)))).toBe(false);
});

test('of what is long excerpts tell it as the whole does', () => {
  const turned = (one: Float32Array, seconds: number) =>
    Float32Array.from({ length: seconds * HARMONY_RATE }, (_, i) => one[i % one.length]);
  const long = voice(HARMONY_RATE, 40, 0.31, (i, share) => STARTS[i] - FALLS[i] * share);
  expect(isSpoken(long)).toBe(true);
  expect(isSpoken(turned(spoken(HARMONY_RATE), 30))).toBe(true);
  expect(isSpoken(turned(sung(60), 30))).toBe(false);
  // A voice that begins after a third of silence.
  const late = new Float32Array(30 * HARMONY_RATE);
  late.set(long, 12 * HARMONY_RATE);
  expect(isSpoken(late)).toBe(isSpeech(speechFigures(late)));
});

test('what is no voice speaks not: hits, noise, a tone that falls, silence, hardly anything', () => {
  const random = randomFrom(5);
  const of = (at: (seconds: number) => number, seconds = 6) =>
    Float32Array.from({ length: seconds * HARMONY_RATE }, (_, i) => at(i / HARMONY_RATE));
  const hits = of((time) => (random() - 0.5) * Math.exp(-(time % 0.25) * 30));
  const noise = of(() => 0.2 * (random() - 0.5));
  const siren = of((time) => 0.3 * Math.sin(2 * Math.PI * (300 * time + 40 * Math.sin(3 * time))));
  for (const one of [hits, noise, siren, of(() => 0), spoken(HARMONY_RATE).subarray(0, 4000)])
    expect(isSpeech(speechFigures(one))).toBe(false);
});

test('the beginning is enough, in blocks of any length, and silence before it counts for nothing', () => {
  const listener = speechListener();
  const whole = spoken(HARMONY_RATE);
  listener.push(new Float32Array(20_000));
  for (let from = 0; from < whole.length; from += 777) listener.push(whole.subarray(from, from + 777));
  for (let i = 0; i < 40; i++) listener.push(new Float32Array(HARMONY_RATE));
  expect(listener.finish()).toBe(true);
});

test('what is measured of speech is not sure, and it says why', () => {
  const measured = measureAudio(spoken(ANALYSIS_RATE));
  expect(measured.spoken).toBe(true);
  expect(measured.remarks).toContainEqual({ code: 'speech' });
  for (const part of [measured.tempo, measured.key, measured.meter])
    if (part) expect(part.sureness).toBeLessThanOrEqual(0.5);
  expect(measured.kindSureness).toBeLessThanOrEqual(0.5);
});
