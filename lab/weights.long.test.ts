import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { StoredWeights } from '@/core/weights/weights';

const folder = mkdtempSync(join(tmpdir(), 'grento-weights-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** Runs the command as it is run for the stored weights, on a few practice pieces. */
async function fit(name: string, ...options: string[]): Promise<StoredWeights> {
  const file = join(folder, name);
  const args = ['scripts/run.mjs', 'lab/weights.ts', '--folds', '0', '--to', file, ...options];
  const child = spawn(process.execPath, args, { stdio: ['ignore', 'ignore', 'pipe'] });
  let said = '';
  child.stderr.on('data', (data) => (said += data));
  const code = await new Promise((resolve) => child.on('close', resolve));
  if (code !== 0) throw new Error(said);
  return JSON.parse(readFileSync(file, 'utf8')) as StoredWeights;
}

test('the same input gives the same weights, whoever has heard what; they say what made them', async () => {
  const one = await fit('one.json', '--practice', '6', '--jobs', '1');
  const two = await fit('two.json', '--practice', '6', '--jobs', '2');
  expect(two).toEqual(one);
  for (const madeBy of [one.madeBy.rhythm, one.madeBy.sound]) {
    expect(madeBy).toMatchObject({ node: process.version, seed: 0, corpora: [] });
    expect(madeBy.arguments).toEqual(['--practice', '6', '--excerpts', '0', '--folds', '0']);
  }
  const other = await fit('other.json', '--practice', '6', '--seed', '1', '--only', 'rhythm');
  expect(other.madeBy.rhythm.seed).toBe(1);
  expect(other.levels).not.toEqual(one.levels);
  // What was not fitted is as it was stored, and says so.
  expect(other.madeBy.sound).not.toEqual(other.madeBy.rhythm);
});
