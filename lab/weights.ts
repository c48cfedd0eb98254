import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual, parseArgs } from 'node:util';
import { format } from 'prettier';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { activeStretch } from '@/core/measurement/activeStretch';
import type { Heard } from '@/core/measurement/listening';
import { explainRhythm } from '@/core/measurement/measure';
import type { StoredWeights, WeightsMadeBy } from '@/core/weights/weights';
import type { HeldFold } from './accuracy/heldOut';
import { argumentsOf, commitNow, corpusOf, storedArguments } from './training/madeBy';
import {
  hear,
  hearExcerpts,
  hearPractice,
  hearPracticeOneShot,
  hearPracticePerformance,
} from './training/recordings';
import { isFree, readTruth, type Origin, type Truth } from './training/truth';
import {
  fitRhythm,
  judgeRhythm,
  namedRhythm,
  observeRhythm,
  rhythmModel,
  reportRhythm,
  type RhythmItem,
  type RhythmModel,
  type Verdict,
} from './training/rhythmWeights';
import {
  fitSound,
  namedSound,
  observeSound,
  reportSound,
  type SoundItem,
  type SoundModel,
  type HeldOut,
} from './training/soundWeights';

const HELP = `npm run weights -- [--again] [--keep FOLDER] [--practice N] [--excerpts N] [--folds N] [--seed N] [--only rhythm|sound] [--held FOLDER] [--jobs N] [--write] [--to FILE] [TRUTH.jsonl…]

Fits the weights in src/core/weights/weights.json on recordings with known truth (conditional logits: the
share of belief that goes to right options is maximised). Of rhythm: the level of the tempo, the bars
on it and the span of such bars in one choice. Of sound: the key, whether there is one, and
whether it is a one-shot. Prints how often the best option is right on held-out groups of recordings, for N
folds (default 5; 0: none).
--practice adds N pieces, a quarter as many performances and half as many one-shots that the script makes itself, from
random styles, patterns and voices; they are never held out. --excerpts adds N other cuts of each song, at other speeds; they are
held out with it. --keep stores what is heard in FOLDER, or uses what is there.
--seed is that of the first practice piece and of the first fit (default 0).
--only fits one part and leaves the other's weights as they are. --held stores the weights of each fold in
FOLDER, with the recordings that they have not seen: npm run accuracy reports them.
--write replaces the file, which then says what made it: commit, arguments, seed and a hash of each corpus; nothing
may be changed since that commit. --to writes FILE instead, also with changes.
--again fits once more what the stored weights say they were fitted on, with their arguments, and says whether the
same comes out; the same TRUTH.jsonl are to be given, at the same commit.`;

const WEIGHTS_FILE = 'src/core/weights/weights.json';

const { values, positionals: truthFiles } = parseArgs({
  args: process.argv.slice(2),
  allowPositionals: true,
  options: {
    keep: { type: 'string' },
    practice: { type: 'string', default: '0' },
    excerpts: { type: 'string', default: '0' },
    folds: { type: 'string', default: '5' },
    seed: { type: 'string', default: '0' },
    jobs: { type: 'string', default: String(availableParallelism()) },
    again: { type: 'boolean' },
    to: { type: 'string' },
    only: { type: 'string' },
    held: { type: 'string' },
    write: { type: 'boolean' },
    help: { type: 'boolean' },
  },
});
const before = JSON.parse(readFileSync(WEIGHTS_FILE, 'utf8')) as StoredWeights;
if (values.again) Object.assign(values, argumentsOf(before.madeBy, values.only));
const keep = values.keep ?? null;
const folds = Number(values.folds);
const practice = Number(values.practice);
const excerpts = Number(values.excerpts);
const firstSeed = Number(values.seed);
const oneShots = practice >> 1;
const performances = Math.round(practice / 4);
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
    const hypotheses = explainRhythm(heard, { performance: isFree(truth) });
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
    if (excerpts && recording.kind === 'song')
      for (const { truth, heard } of await hearExcerpts(recording, excerpts, keep))
        take(truth, heard, 'excerpt');
  }
  for (let seed = firstSeed + from; seed < firstSeed + practice; seed += step) {
    const { truth, heard } = await hearPractice(seed, keep);
    take(truth, heard, 'practice');
  }
  for (let seed = firstSeed + from; seed < firstSeed + performances; seed += step) {
    const { truth, heard } = await hearPracticePerformance(seed, keep);
    take(truth, heard, 'practice');
  }
  if (values.only !== 'rhythm')
    for (let seed = firstSeed + from; seed < firstSeed + oneShots; seed += step) {
      const { truth, heard } = await hearPracticeOneShot(seed, keep);
      take(truth, heard, 'practice');
    }
}

/** What a worker fits on all that was observed but what is held out. */
interface Fit {
  rhythm: RhythmModel['rankers'] | null;
  sound: SoundModel | null;
}

function fitWithout(held: ReadonlySet<string>, { rhythm, sound }: Observed): Fit {
  // What was cut out of a recording is not learned from where that is held out.
  const seen = ({ group }: { group: string }) => !held.has(group);
  return {
    rhythm: rhythm.length ? fitRhythm(rhythm.filter(seen), undefined, undefined, firstSeed).rankers : null,
    sound: sound.length ? fitSound(sound.filter(seen), firstSeed) : null,
  };
}

if (isMainThread) await main();
else {
  const { from, step } = workerData as { from: number; step: number };
  let all: Observed = { rhythm: [], sound: [] };
  await observe(from, step, (some) => parentPort!.postMessage(some));
  parentPort!.postMessage('observed');
  parentPort!.on('message', (asked: { all: Observed } | { without: Set<string> }) => {
    if ('all' in asked) all = asked.all;
    else parentPort!.postMessage(fitWithout(asked.without, all));
  });
}

async function main() {
  const made = await madeNow();
  const rhythm: RhythmItem[] = [];
  const sound: SoundItem[] = [];
  const began = performance.now();
  const step = Number(values.jobs);
  const workers = Array.from(
    { length: step },
    (_, from) =>
      new Worker(new URL(import.meta.url), {
        argv: process.argv.slice(2),
        workerData: { from, step },
        resourceLimits: { maxOldGenerationSizeMb: 10_000 },
      }),
  );
  await Promise.all(
    workers.map(
      (worker) =>
        new Promise<void>((resolve, reject) => {
          worker.on('error', reject);
          worker.on('message', (some: Observed | 'observed' | Fit) => {
            if (some === 'observed') resolve();
            else if (Array.isArray(some.rhythm)) {
              rhythm.push(...some.rhythm);
              sound.push(...(some as Observed).sound);
            }
          });
        }),
    ),
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
  const isWhole = values.write || values.again || values.to !== undefined;
  const folded = Array.from(
    { length: folds },
    (_, fold) => new Set(groups.filter((_, i) => i % folds === fold)),
  );
  const fits = await fitEach(workers, { rhythm, sound }, isWhole ? [...folded, new Set()] : folded);
  const verdicts: Verdict[] = [];
  const judged: HeldOut[] = [];
  folded.forEach((held, fold) => {
    const fit = fits[fold];
    const isHeld = ({ group, origin }: { group: string; origin: Origin }) =>
      held.has(group) && origin === 'recording';
    if (fit.rhythm) {
      const model = rhythmModel(fit.rhythm);
      verdicts.push(...rhythm.filter(isHeld).map((item) => judgeRhythm(item, model)));
    }
    const model = fit.sound;
    if (model) judged.push(...sound.filter(isHeld).map((item) => ({ item, model })));
  });
  if (verdicts.length) reportRhythm('held out', verdicts, true);
  if (judged.length) reportSound(judged);

  const named = (fit: Fit): StoredWeights => ({
    ...before,
    ...(fit.rhythm && namedRhythm(fit.rhythm, verdicts)),
    ...(fit.sound && namedSound(fit.sound, judged)),
    madeBy: {
      rhythm: fit.rhythm ? made : before.madeBy.rhythm,
      sound: fit.sound ? made : before.madeBy.sound,
    },
  });
  if (values.held) {
    mkdirSync(values.held, { recursive: true });
    folded.forEach((held, fold) => {
      const content: HeldFold = { groups: [...held], weights: named(fits[fold]) };
      writeFileSync(join(values.held!, `${fold}.json`), JSON.stringify(content));
    });
  }
  if (!isWhole) return;
  const weights = named(fits[folds]);
  if (values.again) sayWhetherSame(weights);
  const file = values.to ?? (values.write ? WEIGHTS_FILE : null);
  if (file) writeFileSync(file, await format(JSON.stringify(weights), { parser: 'json', printWidth: 110 }));
}

/** What makes weights now. Ends with a sentence where the file may not be replaced, or is not to be made from this. */
async function madeNow(): Promise<WeightsMadeBy> {
  const { name: commit, isChanged } = commitNow();
  if (values.write && isChanged)
    giveUp('Something is changed since the commit: commit it first, so that the weights say what made them.');
  const made: WeightsMadeBy = {
    commit: isChanged ? `${commit} and changes` : commit,
    node: process.version,
    arguments: storedArguments(values),
    seed: firstSeed,
    corpora: await Promise.all(truthFiles.map(corpusOf)),
  };
  if (!values.again) return made;
  const then = before.madeBy[values.only === 'sound' ? 'sound' : 'rhythm'];
  if (then.beside)
    giveUp(
      'The stored weights are the mean of two fits; fit each as it says, and put them beside each other.',
    );
  const missing = then.corpora.filter(
    ({ name, sha256 }) => !made.corpora.some((one) => one.name === name && one.sha256 === sha256),
  );
  if (missing.length || made.corpora.length !== then.corpora.length)
    giveUp(
      `The stored weights were fitted on ${then.corpora.map(({ name, sha256 }) => `${name} (${sha256.slice(0, 12)})`).join(', ')}; given are ${made.corpora.map(({ name, sha256 }) => `${name} (${sha256.slice(0, 12)})`).join(', ') || 'none'}.`,
    );
  if (then.remark) console.error(`Of the stored weights it is said: ${then.remark}.`);
  if (made.commit !== then.commit) console.error(`They were made at ${then.commit}; this is ${made.commit}.`);
  if (made.node !== then.node) console.error(`They were made with Node ${then.node}; this is ${made.node}.`);
  return made;
}

/** Compares what came out with what is stored; the process ends with 1 where they differ. */
function sayWhetherSame(weights: StoredWeights) {
  const isSame = isDeepStrictEqual({ ...weights, madeBy: null }, { ...before, madeBy: null });
  console.log(isSame ? 'The same weights came out.' : 'Other weights came out.');
  if (!isSame) process.exitCode = 1;
}

function giveUp(why: string): never {
  console.error(why);
  process.exit(1);
}

/** Has the workers fit on everything but each of the sets of groups. */
async function fitEach(
  workers: readonly Worker[],
  all: Observed,
  without: readonly Set<string>[],
): Promise<Fit[]> {
  const fits: Fit[] = [];
  let next = 0;
  await Promise.all(
    workers.map(async (worker) => {
      worker.removeAllListeners('message');
      worker.postMessage({ all });
      while (next < without.length) {
        const index = next++;
        const answer = new Promise<Fit>((resolve) => worker.once('message', resolve));
        worker.postMessage({ without: without[index] });
        fits[index] = await answer;
      }
      await worker.terminate();
    }),
  );
  return fits;
}
