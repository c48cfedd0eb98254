import { readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { format } from 'prettier';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { activeStretch } from '../src/core/measurement/activeStretch';
import type { Heard } from '../src/core/measurement/listening';
import { explainRhythm } from '../src/core/measurement/measure';
import { hear, hearExcerpts, hearPractice, hearPracticeOneShot } from './training/recordings';
import { readTruth, type Origin, type Truth } from './training/truth';
import {
  fitRhythm,
  judgeRhythm,
  namedRhythm,
  observeRhythm,
  reportRhythm,
  type RhythmItem,
  type Verdict,
} from './training/rhythmWeights';
import {
  fitSound,
  namedSound,
  observeSound,
  reportSound,
  type SoundItem,
  type HeldOut,
} from './training/soundWeights';

const HELP = `npm run weights -- [--keep FOLDER] [--practice N] [--excerpts N] [--folds N] [--only rhythm|sound] [--write] [TRUTH.jsonl…]

Fits the weights in src/core/weights/weights.json on recordings with known truth (conditional logits: the
share of belief that goes to right options is maximised). Of rhythm: first loop spans, then bars, then levels,
each with the scores of the one before among its observations. Of sound: the key, whether there is one, and
whether it is a one-shot. Prints how often the best option is right on held-out groups of recordings, for N
folds (default 5; 0: none).
--practice adds N pieces and half as many one-shots that the script makes itself, from random styles, patterns
and voices; they are never held out. --excerpts adds N other cuts of each recording, at other speeds; they are
held out with it. --keep stores what is heard in FOLDER, or uses what is there.
--only fits one part and leaves the other's weights as they are. --write replaces the file.`;

const WEIGHTS_FILE = 'src/core/weights/weights.json';

const { values, positionals: truthFiles } = parseArgs({
  args: process.argv.slice(2),
  allowPositionals: true,
  options: {
    keep: { type: 'string' },
    practice: { type: 'string', default: '0' },
    excerpts: { type: 'string', default: '0' },
    folds: { type: 'string', default: '5' },
    only: { type: 'string' },
    write: { type: 'boolean' },
    help: { type: 'boolean' },
  },
});
const keep = values.keep ?? null;
const folds = Number(values.folds);
const practice = Number(values.practice);
const excerpts = Number(values.excerpts);
const oneShots = practice >> 1;
if (values.help || (truthFiles.length === 0 && practice === 0)) {
  console.log(HELP);
  process.exit(values.help ? 0 : 2);
}

/** Some of what a worker has observed. */
interface Observed {
  rhythm: RhythmItem[];
  sound: SoundItem[];
}

/** Hears and observes every `step`-th recording and piece from `from` on; tells of them by and by. */
async function observe(from: number, step: number, tell: (some: Observed) => void) {
  const take = (truth: Truth, heard: Heard, origin: Origin) => {
    if (!activeStretch(heard.features)) return;
    const hypotheses = explainRhythm(heard);
    const rhythm =
      truth.bpm && hypotheses.length && values.only !== 'sound'
        ? [observeRhythm(truth, hypotheses, origin)]
        : [];
    const item = values.only !== 'rhythm' ? observeSound(truth, heard, hypotheses, origin) : null;
    tell({ rhythm, sound: item ? [item] : [] });
  };
  const own = truthFiles.flatMap(readTruth).filter((_, i) => i % step === from);
  for (const recording of own) {
    take(recording, await hear(recording.path, keep), 'recording');
    if (excerpts)
      for (const { truth, heard } of await hearExcerpts(recording, excerpts, keep))
        take(truth, heard, 'excerpt');
  }
  for (let seed = from; seed < practice; seed += step) {
    const { truth, heard } = await hearPractice(seed, keep);
    take(truth, heard, 'practice');
  }
  if (values.only !== 'rhythm')
    for (let seed = from; seed < oneShots; seed += step) {
      const { truth, heard } = await hearPracticeOneShot(seed, keep);
      take(truth, heard, 'practice');
    }
}

if (isMainThread) await main();
else {
  const { from, step } = workerData as { from: number; step: number };
  await observe(from, step, (some) => parentPort!.postMessage(some));
}

async function main() {
  const rhythm: RhythmItem[] = [];
  const sound: SoundItem[] = [];
  const began = performance.now();
  const step = availableParallelism();
  await Promise.all(
    Array.from({ length: step }, (_, from) => {
      const worker = new Worker(new URL(import.meta.url), {
        argv: process.argv.slice(2),
        workerData: { from, step },
      });
      worker.on('message', (some: Observed) => {
        rhythm.push(...some.rhythm);
        sound.push(...some.sound);
      });
      return new Promise((resolve, reject) => worker.once('exit', resolve).once('error', reject));
    }),
  );
  // Whichever worker was faster: the fits see them in one order.
  const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
  rhythm.sort(byId);
  sound.sort(byId);
  console.error(
    `${rhythm.length} rhythms and ${sound.length} sounds observed in ${((performance.now() - began) / 1000).toFixed(0)} s`,
  );

  const groups = [
    ...new Set([...rhythm, ...sound].filter((item) => item.origin === 'recording').map(({ group }) => group)),
  ].sort();
  const verdicts: Verdict[] = [];
  const judged: HeldOut[] = [];
  for (let fold = 0; fold < folds; fold++) {
    const held = new Set(groups.filter((_, i) => i % folds === fold));
    // What was cut out of a recording is not learned from where that is held out.
    const isHeld = ({ group }: { group: string }) => held.has(group);
    if (rhythm.length) {
      const model = fitRhythm(rhythm.filter((item) => !isHeld(item)));
      verdicts.push(
        ...rhythm
          .filter((item) => isHeld(item) && item.origin === 'recording')
          .map((item) => judgeRhythm(item, model)),
      );
    }
    if (sound.length) {
      const model = fitSound(sound.filter((item) => !isHeld(item)));
      judged.push(
        ...sound
          .filter((item) => isHeld(item) && item.origin === 'recording')
          .map((item) => ({ item, model })),
      );
    }
  }
  if (verdicts.length) reportRhythm('held out', verdicts, true);
  if (judged.length) reportSound(judged);

  if (values.write) {
    const before = JSON.parse(readFileSync(WEIGHTS_FILE, 'utf8')) as object;
    const after = {
      ...before,
      ...(rhythm.length ? namedRhythm(fitRhythm(rhythm), verdicts) : {}),
      ...(sound.length ? namedSound(fitSound(sound), judged) : {}),
    };
    writeFileSync(WEIGHTS_FILE, await format(JSON.stringify(after), { parser: 'json', printWidth: 110 }));
  }
}
