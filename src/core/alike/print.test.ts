import { encodeWave } from '../formats/encodeWave';
import { decodeAudio } from '../formats/decode';
import { curtainGroove, mothAndLantern, ropeWalk, trapdoor } from '@/demo/pieces';
import { randomFrom } from '@/demo/random';
import { opening } from '../../../tests/support/bytes';
import { drums, monoOf } from '../../../tests/support/music';
import { HARMONY_RATE } from '../harmony/pitchSpectrum';
import { resample } from '../signal/resample';
import { matchPrints, printBuilder, printRate, sameRecording } from './print';

const printOf = (mono: Float32Array) => {
  const builder = printBuilder(HARMONY_RATE);
  for (let at = 0; at < mono.length; at += 5000) builder.push(mono.subarray(at, at + 5000));
  return builder.finish();
};
const at11k = (mono: Float32Array) => resample(mono, 44100, HARMONY_RATE);

const song = at11k(monoOf(mothAndLantern().stage)).subarray(0, HARMONY_RATE * 30);
const whole = printOf(song);

test('a trimmed, quieter and noisy copy is known again, with its place', () => {
  const random = randomFrom(3);
  // Cut at an odd place, 20 dB quieter, with noise 32 dB under it.
  const cut = song
    .subarray(55_127, 55_127 + HARMONY_RATE * 9)
    .map((value) => value * 0.1 + (random() - 0.5) * 0.003);
  const match = sameRecording(whole.words, printOf(cut).words)!;
  expect(match.difference).toBeLessThan(0.2);
  expect(match.offset / printRate(HARMONY_RATE)).toBeCloseTo(55_127 / HARMONY_RATE, 1);
});

test('the chosen words of a cut lead to the whole', () => {
  const cut = printOf(song.subarray(35_003, 35_003 + HARMONY_RATE * 8));
  const known = new Set(whole.chosen);
  expect(cut.chosen.filter((word) => known.has(word)).length).toBeGreaterThanOrEqual(4);
  expect(cut.chosen.length).toBeLessThan(120);
});

test('other music is not taken for it, nor other drums of the same pattern', () => {
  const others = [curtainGroove, ropeWalk, trapdoor].map((piece) => at11k(monoOf(piece().stage)));
  for (const other of others) expect(sameRecording(whole.words, printOf(other).words)).toBeNull();
  for (const a of others)
    for (const b of others) if (a !== b) expect(sameRecording(printOf(a).words, printOf(b).words)).toBeNull();
  const played = (bpm: number) => printOf(at11k(monoOf(drums({ bpm, bars: 4, seed: 5 }))));
  expect(sameRecording(played(100).words, played(107).words)).toBeNull();
});

test('silence and very short sounds are like nothing', () => {
  const silence = printOf(new Float32Array(HARMONY_RATE * 4));
  expect(silence.chosen).toHaveLength(0);
  expect(matchPrints(silence.words, whole.words)).toBeNull();
  expect(printOf(song.subarray(0, 3000)).words).toHaveLength(0);
});

test('a coded and decoded copy keeps its print', async () => {
  const wav = encodeWave([song], HARMONY_RATE, 16);
  const decoded: number[] = [];
  await decodeAudio(opening(wav), ([channel]) => void decoded.push(...channel));
  expect(sameRecording(whole.words, printOf(Float32Array.from(decoded)).words)!.difference).toBeLessThan(
    0.03,
  );
});
