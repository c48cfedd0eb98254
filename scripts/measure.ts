import { stringify } from 'csv-stringify/sync';
import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { SNIFF_BYTES, sniffType } from '../src/core/formats/sniff';
import { openMp4 } from '../src/server/mp4';
import type { Expected } from '../src/core/measurement/measure';
import { measuredLine, type MeasuredLine } from '../src/core/measurement/measuredLine';
import { measureStream, type MeasureStreamOptions } from '../src/core/measurement/measureStream';
import { meterValue } from '../src/core/rhythm/grid';
import { readName } from '../src/core/readings/nameReading';

const HELP = `npm run -s measure -- [options] FILE…

Measures audio files and prints one JSON object a line, in the order of the files (schema: docs/measurement.schema.json).
A file that cannot be measured gives an object with "error"; the others are still measured.

  --range LOW-HIGH   only tempi between these, BPM: --range 70-140
  --meter N/M        only this meter: --meter 3/4
  --from S --to S    only the part between these, seconds
  --jobs N           files measured at a time (default 1)
  --names            let tempo and key in file names speak too
  --csv              a table instead of JSON

Ends with 0 when every file was measured, 1 when some were not, 2 when the options make no sense.`;

interface Settings {
  options: MeasureStreamOptions;
  names: boolean;
}

class UseError extends Error {}

function settingsFrom(values: Record<string, string | boolean | undefined>): Settings {
  const options: MeasureStreamOptions = {};
  if (typeof values.range === 'string') {
    const [, low, high] = /^([\d.]+)-([\d.]+)$/.exec(values.range) ?? [];
    if (!(Number(low) > 0 && Number(high) > Number(low)))
      throw new UseError(
        `--range wants two tempi, the lower one first, such as 70-140; got "${values.range}"`,
      );
    options.range = { low: Number(low), high: Number(high) };
  }
  if (typeof values.meter === 'string') {
    const [, beatsPerBar, beatUnit] = /^(\d+)\/(\d+)$/.exec(values.meter) ?? [];
    const meter = meterValue.safeParse({ beatsPerBar: Number(beatsPerBar), beatUnit: Number(beatUnit) });
    if (!meter.success) throw new UseError(`--meter wants a meter such as 3/4; got "${values.meter}"`);
    options.meter = meter.data;
  }
  if (values.from !== undefined || values.to !== undefined) {
    const from = seconds('--from', values.from) ?? 0;
    const to = seconds('--to', values.to) ?? Infinity;
    if (to <= from) throw new UseError('--to must be later than --from');
    options.part = { from, to };
  }
  return { options, names: Boolean(values.names) };
}

function seconds(name: string, value: string | boolean | undefined): number | null {
  if (value === undefined) return null;
  const number = Number(value);
  if (value === '' || !(number >= 0)) throw new UseError(`${name} wants seconds; got "${String(value)}"`);
  return number;
}

async function measureFile(file: string, { options, names }: Settings): Promise<MeasuredLine> {
  try {
    const mp4 = (await isMp4(file)) ? openMp4(file) : null;
    const { audio, measurement, millisecondsSpent } = await measureStream(
      () => mp4?.flac ?? createReadStream(file),
      {
        ...options,
        expected: names ? expectedFrom(basename(file)) : undefined,
        claimed: mp4?.claimed,
      },
    );
    // The schema of a line leaves the onsets out: they are thousands.
    return measuredLine.parse({
      file,
      format: mp4 ? 'mp4' : audio.format,
      sampleRate: audio.sampleRate,
      channels: audio.channels,
      ...measurement,
      warnings: [...audio.warnings, ...(mp4?.words(audio.frames / audio.sampleRate) ?? [])],
      millisecondsSpent,
    });
  } catch (error) {
    return { file, error: inWords(error) };
  }
}

async function isMp4(file: string): Promise<boolean> {
  for await (const head of createReadStream(file, { end: SNIFF_BYTES - 1 }))
    return sniffType(head as Buffer).format === 'mp4';
  return false;
}

/** What the name says, as far as it says it for sure. */
function expectedFrom(name: string): Expected {
  const expected: Expected = {};
  for (const reading of readName(name)) {
    const { sureness } = reading;
    if (reading.property === 'tempo') expected.tempo = { bpm: reading.value, sureness };
    if (reading.property === 'key' && 'tonic' in reading.value) expected.key = { ...reading.value, sureness };
  }
  return expected;
}

function inWords(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  const code = (error as NodeJS.ErrnoException).code;
  if (code === 'ENOENT') return 'There is no such file.';
  if (code === 'EISDIR') return 'This is a folder, not a file.';
  if (code === 'EACCES') return 'The file may not be read.';
  return error.message;
}

const COLUMNS = [
  'file',
  'kind',
  'durationSeconds',
  'bpm',
  'tempoSureness',
  'steady',
  'theOne',
  'meter',
  'bars',
  'loopStart',
  'loopEnd',
  'key',
  'keySureness',
  'tuningCents',
  'rootNote',
  'error',
];

function csvRow(line: MeasuredLine): (string | number | null)[] {
  if ('error' in line)
    return COLUMNS.map((column) => (column === 'file' || column === 'error' ? line[column] : ''));
  const { tempo, meter, key, loop } = line;
  return [
    line.file,
    line.kind,
    line.durationSeconds,
    tempo?.bpm ?? null,
    tempo?.sureness ?? null,
    tempo ? (tempo.steady ? 'yes' : 'no') : null,
    line.theOne,
    meter && `${meter.beatsPerBar}/${meter.beatUnit}`,
    line.bars,
    loop?.start ?? null,
    loop?.end ?? null,
    key && `${key.tonic} ${key.mode}`,
    key?.sureness ?? null,
    line.tuningCents,
    line.rootNote?.note ?? null,
    null,
  ];
}

/** Runs the files through `jobs` threads; `print` gets the lines in the order of the files. */
async function measureAll(
  files: readonly string[],
  jobs: number,
  settings: Settings,
  print: (line: MeasuredLine) => void,
) {
  const lines = new Map<number, MeasuredLine>();
  let next = 0;
  let printed = 0;
  const take = (index: number, line: MeasuredLine) => {
    lines.set(index, line);
    for (let ready; (ready = lines.get(printed)); printed++) {
      print(ready);
      lines.delete(printed);
    }
  };
  if (jobs === 1) {
    for (const file of files) take(next++, await measureFile(file, settings));
    return;
  }
  await Promise.all(
    Array.from({ length: Math.min(jobs, files.length) }, async () => {
      let answer: (line: MeasuredLine) => void = () => {};
      let file = '';
      const start = () =>
        new Worker(new URL(import.meta.url), { workerData: settings })
          .on('message', (line: MeasuredLine) => answer(line))
          // A thread that dies, for want of memory, say, takes one file with it, not the batch.
          .on('error', (error) => {
            worker = start();
            answer({ file, error: inWords(error) });
          });
      let worker = start();
      while (next < files.length) {
        const index = next++;
        file = files[index];
        const line = new Promise<MeasuredLine>((resolve) => (answer = resolve));
        worker.postMessage(file);
        take(index, await line);
      }
      await worker.terminate();
    }),
  );
}

async function main() {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      range: { type: 'string' },
      meter: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      jobs: { type: 'string', default: '1' },
      names: { type: 'boolean' },
      csv: { type: 'boolean' },
      help: { type: 'boolean', short: 'h' },
    },
  });
  if (values.help) {
    console.log(HELP);
    return;
  }
  const settings = settingsFrom(values);
  const jobs = Number(values.jobs);
  if (!(Number.isInteger(jobs) && jobs >= 1 && jobs <= 64))
    throw new UseError(`--jobs wants a number from 1 to 64; got "${values.jobs}"`);
  if (positionals.length === 0) throw new UseError('no files given');
  if (values.csv) process.stdout.write(stringify([COLUMNS]));
  await measureAll(positionals, jobs, settings, (line) => {
    if ('error' in line) process.exitCode = 1;
    process.stdout.write(values.csv ? stringify([csvRow(line)]) : `${JSON.stringify(line)}\n`);
  });
}

if (isMainThread) {
  try {
    await main();
  } catch (error) {
    const use = error instanceof UseError || (error instanceof TypeError && 'code' in error);
    if (!use) throw error;
    console.error(`measure: ${(error as Error).message}\n\n${HELP}`);
    process.exitCode = 2;
  }
} else {
  const settings = workerData as Settings;
  parentPort!.on('message', (file: string) => {
    void measureFile(file, settings).then((line) => parentPort!.postMessage(line));
  });
}
