import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { encodeWave } from '@/core/formats/encodeWave';
import type { Heard } from '@/core/measurement/listening';
import { practicePiece } from './practice';
import { hear, hearExcerpts, hearPractice, hearPracticeOneShot } from './recordings';

const keep = mkdtempSync(join(tmpdir(), 'grento-kept-'));
afterAll(() => rmSync(keep, { recursive: true }));

const { samples, rate, truth } = practicePiece(12);
const path = join(keep, 'loop.wav');
writeFileSync(path, encodeWave([samples, samples.map((value) => 0.5 * value)], rate));

test('a file is heard as a mono mix, as long as it is', async () => {
  const heard = await hear(path, null);
  expect(heard.durationSeconds).toBeCloseTo(samples.length / rate, 3);
  expect(heard.onsets.length).toBeGreaterThan(3);
});

test('what was heard is kept, and taken from there the next time', async () => {
  const folder = join(keep, 'a');
  const first = await hear(path, folder);
  const [name] = readdirSync(folder);
  expect((deserialize(readFileSync(join(folder, name))) as Heard).onsets).toEqual(first.onsets);
  writeFileSync(join(folder, name), serialize({ ...first, durationSeconds: 77 }));
  expect((await hear(path, folder)).durationSeconds).toBe(77);
  expect((await hear(path, null)).durationSeconds).not.toBe(77);
});

test('a practice piece keeps its truth beside what was heard', async () => {
  const folder = join(keep, 'b');
  const made = await hearPractice(12, folder);
  expect(made.truth).toEqual(truth);
  const again = await hearPractice(12, folder);
  expect(again.truth).toEqual(JSON.parse(JSON.stringify(truth)));
  expect(again.heard.onsets).toEqual(made.heard.onsets);
});

test('a one-shot has neither tempo nor a key that is known', async () => {
  const { truth: known, heard } = await hearPracticeOneShot(3, null);
  expect(known).toMatchObject({ kind: 'oneshot', bpm: null, keyUnknown: true });
  expect(heard.durationSeconds).toBeGreaterThan(0.05);
});

test('excerpts of a recording are the same when they are taken from what is kept', async () => {
  const folder = join(keep, 'c');
  const recording = { ...truth, id: 'loop', path };
  const cut = await hearExcerpts(recording, 2, folder);
  expect(cut).toHaveLength(2);
  const again = await hearExcerpts(recording, 2, folder);
  expect(again.map((one) => one.truth)).toEqual(cut.map((one) => JSON.parse(JSON.stringify(one.truth))));
  again.forEach(({ heard }, i) => expect(heard.onsets).toEqual(cut[i].heard.onsets));
});
