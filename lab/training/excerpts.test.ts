import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWave } from '@/core/formats/encodeWave';
import { ANALYSIS_RATE } from '@/core/rhythm/onsetFeatures';
import { cutExcerpts, type Excerpt } from './excerpts';
import type { Truth } from './truth';

const RATE = 16000;
const SECONDS = 36;
const folder = mkdtempSync(join(tmpdir(), 'grento-excerpts-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** A song of short pulses, one per beat of 100 BPM from 0.4 s on, those on downbeats twice as strong. */
function pulsedSong(): Truth & { path: string } {
  const beats: number[] = [];
  for (let time = 0.4; time < SECONDS - 0.2; time += 0.6) beats.push(time);
  const channel = new Float32Array(RATE * SECONDS);
  beats.forEach((time, k) => {
    const at = Math.round(time * RATE);
    for (let i = 0; i < 300; i++)
      channel[at + i] += (k % 4 ? 0.4 : 0.8) * Math.cos(i / 3) * Math.exp(-i / 30);
  });
  const path = join(folder, 'song.wav');
  writeFileSync(path, encodeWave([channel], RATE));
  return {
    id: 'T1',
    file: 'song.wav',
    path,
    kind: 'song',
    bpm: 100,
    beats,
    downbeats: beats.filter((_, k) => k % 4 === 0),
    beatsPerBar: 4,
    beatUnit: 4,
    key: { tonic: 'A', mode: 'minor' },
  };
}

/** The loudest sample within 20 ms of a time. */
function peakNear({ samples }: Excerpt, time: number): { value: number; off: number } {
  const from = Math.max(0, Math.round((time - 0.02) * ANALYSIS_RATE));
  const to = Math.min(samples.length, Math.round((time + 0.02) * ANALYSIS_RATE));
  let best = from;
  for (let i = from; i < to; i++) if (Math.abs(samples[i]) > Math.abs(samples[best])) best = i;
  return { value: Math.abs(samples[best]), off: Math.abs(best / ANALYSIS_RATE - time) };
}

describe('excerpts of a recording', () => {
  let excerpts: Excerpt[];
  beforeAll(async () => {
    excerpts = await cutExcerpts(pulsedSong(), 8);
  });

  test('have their beats where the truth says, whatever the speed and the cut', () => {
    expect(excerpts).toHaveLength(8);
    for (const excerpt of excerpts) {
      const { beats, bpm } = excerpt.truth;
      expect(beats!.length).toBeGreaterThan(2);
      expect((60 * (beats!.length - 1)) / (beats![beats!.length - 1] - beats![0])).toBeCloseTo(bpm!, 2);
      const inside = beats!.filter(
        (time) => time > 0.02 && time < excerpt.samples.length / ANALYSIS_RATE - 0.02,
      );
      for (const time of inside) {
        const { value, off } = peakNear(excerpt, time);
        expect(value).toBeGreaterThan(0.2);
        expect(off).toBeLessThan(0.001);
      }
    }
  });

  test('have their downbeats on the strong pulses', () => {
    for (const excerpt of excerpts)
      for (const time of excerpt.truth.downbeats!.filter((one) => one > 0.02)) {
        if (time < excerpt.samples.length / ANALYSIS_RATE - 0.02)
          expect(peakNear(excerpt, time).value).toBeGreaterThan(0.5);
      }
  });

  test('are songs of other lengths, and loops with bounds on downbeats', () => {
    const loops = excerpts.filter(({ truth }) => truth.kind === 'loop');
    expect(loops.length).toBeGreaterThan(2);
    expect(loops.length).toBeLessThan(8);
    for (const { truth, samples } of loops) {
      expect(truth.downbeats).toHaveLength(truth.bars!);
      expect(truth.loopEnd! - truth.loopStart!).toBeCloseTo((truth.bars! * 4 * 60) / truth.bpm!, 3);
      expect(truth.downbeats![0]).toBeCloseTo(truth.loopStart!, 3);
      expect(samples.length / ANALYSIS_RATE).toBeGreaterThan(truth.loopEnd! - 0.001);
    }
  });

  test('belong to the recording that they were cut out of', () => {
    for (const { truth } of excerpts) expect(truth.group).toBe('T1');
    expect(new Set(excerpts.map(({ truth }) => truth.id)).size).toBe(8);
    expect(new Set(excerpts.map(({ truth }) => truth.bpm!.toFixed(1))).size).toBeGreaterThan(4);
  });
});
