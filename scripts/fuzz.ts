import { parseArgs } from 'node:util';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { isUserWord, seedFiles, mutated, tried, type Tried } from './lib/fuzzing';
import { randomFrom } from '../src/demo/random';

const HELP = `npm run test:fuzz -- [--count N] [--seed N]

Damages small files of all formats in many ways and lets each be decoded, measured and read for tags as if it had
arrived. Fails when one of them crashes a process, takes longer than 20 s, answers with words from inside, or gives less
sound than the whole file without a warning. Ends with 0 when there was none of that, else with 1.`;

/** One file may take so long, ms. */
const LONGEST = 20_000;

async function main() {
  const { values } = parseArgs({
    options: { count: { type: 'string' }, seed: { type: 'string' }, help: { type: 'boolean' } },
  });
  if (values.help) return console.log(HELP);
  const count = Number(values.count ?? 500);
  const seed = Number(values.seed ?? 1);
  if (!(count > 0 && Number.isInteger(seed))) {
    console.error('--count wants how many, --seed a whole number.');
    process.exit(2);
  }
  const seeds = await seedFiles();
  const random = randomFrom(seed);
  const faults: string[] = [];
  const figures = new Map<string, { tries: number; told: number; refused: number }>();
  let worker = begin();
  let slowest = 0;
  for (let index = 0; index < count; index++) {
    const from = seeds[index % seeds.length];
    const damage = mutated(from.bytes, random);
    const answer = await ask(worker, damage.bytes);
    const name = `${from.format} #${index} (${damage.words})`;
    const sum = figures.get(from.format) ?? { tries: 0, told: 0, refused: 0 };
    figures.set(from.format, sum);
    sum.tries++;
    if (typeof answer === 'string') {
      faults.push(`${name}: ${answer}`);
      await worker.terminate();
      worker = begin();
      continue;
    }
    slowest = Math.max(slowest, answer.milliseconds);
    if (answer.error !== null) sum.refused++;
    if (answer.warnings.length > 0) sum.told++;
    for (const words of [answer.error, ...answer.warnings])
      if (words !== null && !isUserWord(words)) faults.push(`${name}: says “${words}”`);
    if (answer.crash) faults.push(`${name}: ${answer.crash}`);
    const short =
      from.frames !== null && answer.frames !== null && answer.frames < from.frames - 0.01 * from.rate;
    if (short && answer.warnings.length === 0 && !(damage.isCut && from.cutIsUnseen))
      faults.push(`${name}: ${answer.frames} frames of ${from.frames}, and no warning`);
  }
  await worker.terminate();
  for (const [format, { tries, told, refused }] of figures)
    console.log(
      `${format.padEnd(10)} ${tries} tried, ${refused} refused with a sentence, ${told} with warnings`,
    );
  console.log(`slowest ${(slowest / 1000).toFixed(1)} s; seed ${seed}`);
  for (const fault of faults) console.error(fault);
  console.log(faults.length === 0 ? 'no faults' : `${faults.length} faults`);
  process.exit(faults.length === 0 ? 0 : 1);
}

function begin(): Worker {
  return new Worker(process.argv[1], { stdout: true, stderr: true });
}

/** What became of a file, or what went wrong with it. */
function ask(worker: Worker, bytes: Uint8Array): Promise<Tried | string> {
  return new Promise((resolve) => {
    const onError = (error: Error) => end(`ends its process: ${error.message}`);
    const onExit = (code: number) => end(`ends its process with ${code}`);
    const end = (answer: Tried | string) => {
      clearTimeout(timer);
      worker.off('message', end).off('error', onError).off('exit', onExit);
      resolve(answer);
    };
    const timer = setTimeout(() => end(`takes longer than ${LONGEST / 1000} s`), LONGEST);
    worker.on('message', end).on('error', onError).on('exit', onExit);
    worker.postMessage(bytes);
  });
}

if (isMainThread) void main();
else parentPort!.on('message', async (bytes: Uint8Array) => parentPort!.postMessage(await tried(bytes)));
