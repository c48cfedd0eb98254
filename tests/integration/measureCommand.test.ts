import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { measuredLine, type MeasuredLine } from '@/core/measurement/measuredLine';
import { drumFile } from '../support/files';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'grento-measure-'));
  writeFileSync(join(folder, 'one.wav'), drumFile({ bpm: 100, bars: 4 }));
  writeFileSync(join(folder, 'two.wav'), drumFile({ bpm: 132, bars: 8, beatsPerBar: 3, seed: 9 }));
  writeFileSync(join(folder, 'torn.wav'), drumFile({ bpm: 100, bars: 1 }).subarray(0, 30));
  writeFileSync(join(folder, 'letter.txt'), 'Dear Wilmot, the lanterns have come.');
  mkdirSync(join(folder, 'box'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function measure(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['scripts/run.mjs', 'scripts/measure.ts', ...args],
    {
      encoding: 'utf8',
      // A command that hangs fails its test and not the whole run.
      timeout: 120_000,
    },
  );
  return { status, stdout, stderr };
}
const lines = (stdout: string) =>
  stdout
    .trim()
    .split('\n')
    .map((line) => measuredLine.parse(JSON.parse(line)));
const path = (name: string) => join(folder, name);

function tempoOf(line: MeasuredLine): number {
  if ('error' in line) throw new Error(line.error);
  return line.tempo!.bpm;
}

test('prints one line a file that keeps to the schema, and ends with 0', () => {
  const { status, stdout } = measure(path('one.wav'), path('two.wav'));
  expect(status).toBe(0);
  const [one, two] = lines(stdout);
  expect(tempoOf(one)).toBeCloseTo(100, 1);
  expect(tempoOf(two)).toBeCloseTo(132, 1);
  expect(one).toMatchObject({ file: path('one.wav'), kind: 'loop', bars: 4, sampleRate: 44100, channels: 2 });
});

test('broken files give an error each and do not stop the batch; the order is kept with several jobs', () => {
  const names = ['torn.wav', 'one.wav', 'letter.txt', 'nowhere.wav', 'box', 'two.wav'];
  const { status, stdout } = measure('--jobs', '2', ...names.map(path));
  expect(status).toBe(1);
  const found = lines(stdout);
  expect(found.map(({ file }) => file)).toEqual(names.map(path));
  const errors = found.map((line) => ('error' in line ? line.error : null));
  expect(errors[1]).toBeNull();
  expect(errors[5]).toBeNull();
  expect(errors[3]).toMatch(/no such file/);
  expect(errors[4]).toMatch(/folder/);
  for (const i of [0, 2]) expect(errors[i]).toMatch(/\w+ \w+.*\./);
});

test('range, time signature and part are kept to', () => {
  const { stdout } = measure(
    '--range',
    '150-260',
    '--meter',
    '3/4',
    '--from',
    '2',
    '--to',
    '9',
    path('one.wav'),
  );
  const [line] = lines(stdout);
  expect(tempoOf(line)).toBeCloseTo(200, 0);
  expect(line).toMatchObject({ meter: { beatsPerBar: 3, beatUnit: 4 } });
});

test('names speak only when they are asked', () => {
  const named = path('Stilt March 200bpm.wav');
  writeFileSync(named, drumFile({ bpm: 100, bars: 4 }));
  const sureness = (stdout: string) => {
    const [line] = lines(stdout);
    if ('error' in line || !line.tempo) throw new Error('not measured');
    const all = [line.tempo, ...line.tempo.alternatives];
    return all.find(({ bpm }) => Math.abs(bpm - 200) < 1)?.sureness ?? 0;
  };
  const plain = sureness(measure(named).stdout);
  expect(plain).toBe(sureness(measure(path('one.wav')).stdout));
  expect(sureness(measure('--names', named).stdout)).toBeGreaterThan(plain);
});

test('a table has a row a file', () => {
  const { stdout } = measure('--csv', path('one.wav'), path('letter.txt'));
  const rows = stdout.trim().split('\n');
  expect(rows).toHaveLength(3);
  expect(rows[0]).toMatch(/^file,kind,durationSeconds,bpm/);
  expect(rows[1]).toContain(',loop,');
  expect(rows[2]).toContain('letter.txt');
});

test.each([
  [['--range', '140-70', 'x.wav'], /lower one first/],
  [['--meter', 'three', 'x.wav'], /such as 3\/4/],
  [['--from', '5', '--to', '2', 'x.wav'], /later than/],
  [['--jobs', '0', 'x.wav'], /--jobs/],
  [['--louder', 'x.wav'], /louder/],
  [[], /no files/],
])('%j is explained and ends with 2', (args, words) => {
  const { status, stdout, stderr } = measure(...args);
  expect(status).toBe(2);
  expect(stdout).toBe('');
  expect(stderr).toMatch(words);
});

test('help is printed and ends with 0', () => {
  const { status, stdout } = measure('--help');
  expect(status).toBe(0);
  for (const option of ['--range', '--meter', '--from', '--to', '--jobs', '--names', '--csv'])
    expect(stdout).toContain(option);
});
