import { spawnSync } from 'node:child_process';

test('files damaged in many ways are decoded, told of or refused, and nothing crashes or hangs', () => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['scripts/run.mjs', 'scripts/fuzz.ts', '--count', '66', '--seed', '7'],
    { encoding: 'utf8' },
  );
  expect({ status, stderr: stderr.slice(0, 2000) }).toEqual({ status: 0, stderr: expect.any(String) });
  expect(stdout).toMatch(/flac +6 tried/);
  expect(stdout).toMatch(/no faults/);
}, 120_000);
