import { encodeWave } from '../formats/encodeWave';
import { decodeAudio } from '../formats/decode';
import { curtainGroove, mothAndLantern, ropeWalk, trapdoor } from '@/demo/pieces';
import { randomFrom } from '@/demo/random';
import { inBlocks } from '../../../tests/support/bytes';
import { drums, monoOf } from '../../../tests/support/music';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { resample } from '../signal/resample';
import { matchPrints, printBuilder, printRate, sameRecording } from './print';

const printOf = (mono: Float32Array) => {
  const builder = printBuilder(ANALYSIS_RATE);
  for (let at = 0; at < mono.length; at += 5000) builder.push(mono.subarray(at, at + 5000));
  return builder.finish();
};
const at22k = (mono: Float32Array) => resample(mono, 44100, ANALYSIS_RATE);

const song = at22k(monoOf(mothAndLantern().stage)).subarray(0, ANALYSIS_RATE * 30);
const whole = printOf(song);

test('a trimmed, quieter and noisy copy is known again, with its place', () => {
  const random = randomFrom(3);
  // Cut at an odd place, 20 dB quieter, with noise 30 dB under it.
  const cut = song
    .subarray(110_251, 110_251 + ANALYSIS_RATE * 9)
    .map((value) => value * 0.1 + (random() - 0.5) * 0.004);
  const match = sameRecording(whole.words, printOf(cut).words)!;
  expect(match.difference).toBeLessThan(0.2);
  expect(match.offset / printRate(ANALYSIS_RATE)).toBeCloseTo(110_251 / ANALYSIS_RATE, 1);
});

test('the chosen words of a cut lead to the whole', () => {
  const cut = printOf(song.subarray(70_007, 70_007 + ANALYSIS_RATE * 8));
  const known = new Set(whole.chosen);
  expect(cut.chosen.filter((word) => known.has(word)).length).toBeGreaterThanOrEqual(4);
  expect(cut.chosen.length).toBeLessThan(120);
});

test('other music is not taken for it, nor other drums of the same pattern', () => {
  const others = [curtainGroove, ropeWalk, trapdoor].map((piece) => at22k(monoOf(piece().stage)));
  for (const other of others) expect(sameRecording(whole.words, printOf(other).words)).toBeNull();
  for (const a of others)
    for (const b of others) if (a !== b) expect(sameRecording(printOf(a).words, printOf(b).words)).toBeNull();
  const played = (bpm: number) => printOf(at22k(monoOf(drums({ bpm, bars: 4, seed: 5 }))));
  expect(sameRecording(played(100).words, played(107).words)).toBeNull();
});

test('silence and very short sounds are like nothing', () => {
  const silence = printOf(new Float32Array(ANALYSIS_RATE * 4));
  expect(silence.chosen).toHaveLength(0);
  expect(matchPrints(silence.words, whole.words)).toBeNull();
  expect(printOf(song.subarray(0, 3000)).words).toHaveLength(0);
});

test('a coded and decoded copy keeps its print', async () => {
  const wav = encodeWave([song], ANALYSIS_RATE, 16);
  const decoded: number[] = [];
  await decodeAudio(inBlocks(wav), ([channel]) => void decoded.push(...channel));
  expect(sameRecording(whole.words, printOf(Float32Array.from(decoded)).words)!.difference).toBeLessThan(
    0.03,
  );
});
