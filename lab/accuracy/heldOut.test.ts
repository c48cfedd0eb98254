import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWave } from '@/core/formats/encodeWave';
import { measureAudio } from '@/core/measurement/measure';
import stored from '@/core/weights/weights.json' with { type: 'json' };
import type { StoredWeights } from '@/core/weights/weights';
import { practicePiece } from '../training/practice';
import { measureHeldOut } from './heldOut';

const folder = mkdtempSync(join(tmpdir(), 'grento-held-'));
afterAll(() => rmSync(folder, { recursive: true }));

const own = stored as unknown as StoredWeights;
/** Weights that find every metrical level equally good but the slowest tempi best. */
const slow: StoredWeights = {
  ...own,
  levels: {
    temperature: 1,
    standard: { tempo: [0, 1] },
    layers: [{ hidden: [], observations: { tempo: [-30] } }],
  },
};

const { samples, rate, truth } = practicePiece(20);
const recording = (id: string) => {
  const path = join(folder, `${id}.wav`);
  writeFileSync(path, encodeWave([samples], rate));
  return { ...truth, id, piece: id, path };
};
const recordings = ['seen by none', 'in the first', 'in the second'].map(recording);

test('each recording is measured with the weights of the fold that has not seen it', async () => {
  writeFileSync(join(folder, '0.json'), JSON.stringify({ groups: ['in the first'], weights: own }));
  writeFileSync(join(folder, '1.json'), JSON.stringify({ groups: ['in the second'], weights: slow }));
  const [none, first, second] = await measureHeldOut(folder, recordings, null);
  expect([none.id, first.id, second.id]).toEqual(recordings.map(({ id }) => id));
  expect(Math.abs(first.bpm! / truth.bpm! - 1)).toBeLessThan(0.001);
  expect(second.bpm!).toBeLessThan(0.6 * first.bpm!);
  // One of no group takes the first fold's.
  expect({ ...none, id: '' }).toEqual({ ...first, id: '' });
});

test('afterwards the stored weights are in use again', () => {
  expect(measureAudio(samples).tempo!.bpm).toBeCloseTo(truth.bpm!, 1);
});

test('a folder without folds is an error that names it', async () => {
  const empty = mkdtempSync(join(folder, 'empty-'));
  await expect(measureHeldOut(empty, recordings, null)).rejects.toThrow(`${empty} has no weights of folds`);
});
