import { scoreNames, type NamedItem } from './accuracy/names';
import { scoreStemSets, type Listened, type StemTruth } from './accuracy/stemSets';
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { parseArgs } from 'node:util';
import { format as formatMarkdown } from 'prettier';
import { ablate, VARIANTS } from './accuracy/ablation';
import { baseline } from './accuracy/baseline';
import { predictionOf, type Prediction } from './accuracy/predictions';
import { shareAsExpected } from './accuracy/errorsLeft';
import { answersOf, reliability, sayWhy, type Truth } from './accuracy/judgement';
import {
  loopTable,
  LOOP_TARGETS,
  performanceTable,
  SONG_TARGETS,
  songTable,
  targetRows,
  type Scores,
} from './accuracy/tables';
import type { MeasuredLine } from '@/core/measurement/measuredLine';
import { measureHeldOut } from './accuracy/heldOut';
import { hear } from './training/recordings';
import { readTruth } from './training/truth';

const HELP = `npm run accuracy -- [--jobs N] [--keep FOLDER] [--held FOLDER] [--no-ablation] [--scorers FOLDER] [--to FILE] CORPUS

Measures the corpus in the folder CORPUS, runs its scorers, and writes docs/accuracy.md: figures against what is
wanted, by source and variant, how far surenesses can be believed, what fails and why, what each part of the
engine is worth, and how long it took. --keep stores what is heard in FOLDER for the next ablation. --held says what weights
reach that have not seen the recordings: those that npm run weights stored in FOLDER under the same option. --scorers is
where the scorers are, where that is another folder than CORPUS; --to writes FILE instead.`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    jobs: { type: 'string', default: String(availableParallelism()) },
    keep: { type: 'string' },
    held: { type: 'string' },
    'no-ablation': { type: 'boolean' },
    scorers: { type: 'string' },
    to: { type: 'string', default: 'docs/accuracy.md' },
    help: { type: 'boolean' },
  },
});
const corpus = positionals[0];
if (values.help || !corpus) {
  console.log(HELP);
  process.exit(values.help ? 0 : 2);
}
const OUT = values.to;
const scorers = values.scorers ?? corpus;
const scratch = mkdtempSync(join(tmpdir(), 'grento-accuracy-'));

/** Runs the measuring command as a user would. */
function measure(files: string[]): Promise<MeasuredLine[]> {
  return new Promise((resolve, reject) => {
    const child = spawn(
      process.execPath,
      ['scripts/run.mjs', 'scripts/measure.ts', '--jobs', values.jobs, ...files],
      {
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    );
    let text = '';
    child.stdout.on('data', (part: Buffer) => (text += part.toString()));
    child.on('error', reject);
    child.on('exit', () =>
      resolve(
        text
          .trim()
          .split('\n')
          .map((line) => JSON.parse(line) as MeasuredLine),
      ),
    );
  });
}

function readLines<T>(file: string): T[] {
  return readFileSync(file, 'utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as T);
}

function written(predictions: readonly Prediction[]): string {
  const file = join(scratch, 'predictions.jsonl');
  writeFileSync(file, predictions.map((prediction) => JSON.stringify(prediction)).join('\n'));
  return file;
}

const songTruthFile = join(corpus, 'songs', 'truth.jsonl');
const loopTruthFile = join(corpus, 'loops', 'truth.jsonl');
const songTruth = readLines<Truth>(songTruthFile);
const loopTruth = readLines<Truth>(loopTruthFile);

interface SongScores {
  summary: Scores;
  items: ({ id: string } & Record<string, number | null>)[];
}

function scoreSongs(predictions: readonly Prediction[]): SongScores {
  const json = join(scratch, 'songs.json');
  execFileSync(process.execPath, [
    join(scorers, 'score-songs.mjs'),
    songTruthFile,
    written(predictions),
    '--json',
    json,
  ]);
  return JSON.parse(readFileSync(json, 'utf8')) as SongScores;
}

function scoreLoops(predictions: readonly Prediction[], ...options: string[]): Scores {
  const text = execFileSync(process.execPath, [
    join(scorers, 'score-loops.mjs'),
    loopTruthFile,
    written(predictions),
    '--json',
    ...options,
  ]).toString();
  return JSON.parse(text) as Scores;
}

const began = performance.now();
const lines = new Map<string, MeasuredLine>();
const fileOf = (folder: string, item: { file: string }) => join(corpus, folder, item.file);
const measured = await measure([
  ...songTruth.map((item) => fileOf('songs', item)),
  ...loopTruth.map((item) => fileOf('loops', item)),
]);
const wallSeconds = (performance.now() - began) / 1000;
for (const line of measured) lines.set(basename(line.file), line);

function predictionsFor(items: readonly { id: string; file: string }[]): Prediction[] {
  return items.flatMap(({ id, file }) => {
    const line = lines.get(basename(file));
    if (!line || 'error' in line) return [];
    const { decode, measure: measuring } = line.millisecondsSpent;
    return [{ ...predictionOf(id, line), seconds: (decode + measuring) / 1000 }];
  });
}
const songs = predictionsFor(songTruth);
const loops = predictionsFor(loopTruth);
const songScores = scoreSongs(songs);
const LOOP_KINDS = 'loop,oneshot,tonal,stem,vocal';
const loopScores = scoreLoops(loops, '--kind', LOOP_KINDS);

let heldOut: { songs: Prediction[]; loops: Prediction[]; scores: [Scores, Scores] } | null = null;
if (values.held) {
  const heldSongs = await measureHeldOut(values.held, readTruth(songTruthFile), values.keep ?? null);
  const heldLoops = await measureHeldOut(values.held, readTruth(loopTruthFile), values.keep ?? null);
  const scores: [Scores, Scores] = [
    scoreSongs(heldSongs).summary,
    scoreLoops(heldLoops, '--kind', LOOP_KINDS),
  ];
  heldOut = { songs: heldSongs, loops: heldLoops, scores };
}

let audioSeconds = 0;
let decode = 0;
let measuring = 0;
for (const line of measured) {
  if ('error' in line) continue;
  audioSeconds += line.durationSeconds;
  decode += line.millisecondsSpent.decode / 1000;
  measuring += line.millisecondsSpent.measure / 1000;
}

const parts: string[] = [];
const say = (text: string) => parts.push(text);
const table = (head: readonly string[], rows: readonly (readonly string[])[]) =>
  [head, head.map(() => '---'), ...rows].map((row) => `| ${row.join(' | ')} |`).join('\n');

say(`# Accuracy, calibration and speed

Written by \`npm run accuracy\` on the development corpus (${songTruth.length} songs, ${loopTruth.length} loops,
one-shots, excerpts, stems, voices, MIDI performances). The weights are fitted on
this corpus and on practice pieces that the project synthesises, so these figures are better than those for music
that the engine has not met: ${
  heldOut
    ? 'that is in the column “held out”, where each recording is measured with weights that are fitted without it and without all that was cut from the same piece'
    : 'what cross-validation says of that stands in [method.md](method.md)'
}.`);
say('## What is wanted and what is reached');
say(
  table(
    ['kind', 'figure', 'wanted', 'reached', '', ...(heldOut ? ['held out', ''] : [])],
    [
      ...targetRows(SONG_TARGETS, [songScores.summary, ...(heldOut ? [heldOut.scores[0]] : [])]),
      ...targetRows(LOOP_TARGETS, [loopScores, ...(heldOut ? [heldOut.scores[1]] : [])]),
    ],
  ),
);
say('## Songs by source');
say(songTable(songScores.summary, table));
say('## Loops, one-shots, excerpts, stems and voices by variant');
say(loopTable(loopScores, table));
say(`## MIDI performances

Played freely, headers that claim 120; what is measured is what our own instruments make of the notes.`);
say(performanceTable(scoreLoops(loops, '--kind', 'midi'), table));

// Filled where the recordings are heard for the ablation.
const listened = new Map<string, Listened>();

const named = scoreNames(readLines<NamedItem>(loopTruthFile).filter(({ nameTruth }) => nameTruth));
const inPercent = (count: number) => ((100 * count) / named.items).toFixed(1);
say(`## Readings of names

Of ${named.items} names as people give them, ${inPercent(named.tempoRight)} % of the tempo tokens and ${inPercent(named.keyRight)} % of the key tokens are read as somebody reads them who knows the file (97 % wanted), names that say nothing included. Years, takes and counts taken for a tempo with a sureness of a half or more: ${named.misleadingTaken.length}.

${named.wrong.map(({ name, what }) => `- ${name}: ${what}`).join('\n')}`);

say(`## How far a sureness can be believed

Of the answers that were given a sureness in the range on the left, how many are right. A tempo is right within
4 % at the metrical level of the truth; a key when tonic and mode are; a kind as the scorer counts it.`);
const judgeable = (ofSongs: readonly Prediction[], ofLoops: readonly Prediction[]) => [
  ...songTruth.map((truth) => ({ truth, prediction: ofSongs.find(({ id }) => id === truth.id) })),
  ...loopTruth.map((truth) => ({ truth, prediction: ofLoops.find(({ id }) => id === truth.id) })),
];
const items = judgeable(songs, loops);
const heldItems = heldOut && judgeable(heldOut.songs, heldOut.loops);
const RELIABILITY_HEAD = ['sureness', 'tempo', 'key', 'kind'];
say(table(RELIABILITY_HEAD, reliability(items)));
if (heldItems) {
  say(`Held out:\n\n${table(RELIABILITY_HEAD, reliability(heldItems))}`);
  const answers = answersOf(heldItems);
  const asExpected = (of: 'tempo' | 'key') => {
    const share = shareAsExpected(answers[of], 100);
    return share === null ? '–' : `${(100 * share).toFixed(0)} %`;
  };
  say(`Of libraries of 100 recordings drawn from these, ${asExpected('tempo')} have as many wrong tempi as their
confidences let expect, and ${asExpected('key')} as many wrong keys (95 % wanted).`);
}

say('## What fails and why');
const whyHead = ['item', 'kind', 'what', 'why'];
const failing = items.flatMap(({ truth, prediction }) => sayWhy(truth, prediction));
say(table(whyHead, failing));
if (heldItems) {
  const known = new Set(failing.map(([id, , what]) => `${id} ${what}`));
  const more = heldItems
    .flatMap(({ truth, prediction }) => sayWhy(truth, prediction))
    .filter(([id, , what]) => !known.has(`${id} ${what}`));
  say(`Besides, where it is held out:\n\n${table(whyHead, more)}`);
}

if (!values['no-ablation']) {
  say(`## What each part is worth

The same recordings with one part of the engine left out (weights as they are, the left-out observations held at
their mean), and the simple baseline in \`lab/accuracy/baseline.ts\`.`);
  const variants = new Map<string, { songs: Prediction[]; loops: Prediction[] }>();
  const of = (name: string) => {
    let variant = variants.get(name);
    if (!variant) variants.set(name, (variant = { songs: [], loops: [] }));
    return variant;
  };
  for (const [folder, truths] of [
    ['songs', songTruth],
    ['loops', loopTruth.filter(({ kind }) => kind !== 'midi')],
  ] as const) {
    for (const truth of truths) {
      const heard = await hear(fileOf(folder, truth), values.keep ?? null);
      const line = lines.get(basename(truth.file));
      if (folder === 'loops' && line && !('error' in line))
        listened.set(truth.id, {
          durationSeconds: line.durationSeconds,
          tempoBpm: line.tempo?.bpm ?? null,
          onsets: heard.onsets,
        });
      of('baseline')[folder].push(baseline(truth.id, heard));
      const all = ablate(heard);
      for (const { name } of VARIANTS) of(name)[folder].push(predictionOf(truth.id, all.get(name)!));
    }
  }
  const cell = (value: number | null | undefined, scale = 1) =>
    value == null ? '–' : (value * scale).toFixed(1);
  say(
    table(
      [
        'variant',
        'songs Acc1',
        'songs beat F',
        'songs downbeat F',
        'songs key',
        'loops Acc1',
        'bars',
        'one',
        'bounds < 20 ms',
        'loops key',
      ],
      [...variants].map(([name, predictions]) => {
        const song = scoreSongs(predictions.songs).summary['(tempo unambiguous)'];
        const loop = scoreLoops(predictions.loops, '--kind', 'loop').ALL;
        return [
          name,
          cell(song.Acc1, 100),
          cell(song.beatF, 100),
          cell(song.downF, 100),
          cell(song.key, 100),
          cell(loop.acc1),
          cell(loop.bars),
          cell(loop.phase),
          cell(loop.loop20),
          cell(loop.keyExact),
        ];
      }),
    ),
  );
}

if (listened.size > 0) {
  const sets = scoreStemSets(readLines<StemTruth>(loopTruthFile), listened);
  say(`## Stem sets

With all ${listened.size} loops, one-shots, excerpts, stems and voices in one folder under their given names: ${sets.found} of ${sets.sets} sets are found with exactly their stems; found in part: ${sets.partly.length}; invented: ${sets.invented.length}.

${[...sets.partly, ...sets.invented].map((words) => `- ${words}`).join('\n')}`);
}

say('## Speed');
say(
  `${(audioSeconds / 60).toFixed(1)} minutes of audio in ${wallSeconds.toFixed(1)} s with ${values.jobs} at a time. On one core, decoding, resampling and waveform peaks took ${decode.toFixed(1)} s (${(audioSeconds / decode).toFixed(0)} times faster than real time), measuring ${measuring.toFixed(1)} s (${(audioSeconds / measuring).toFixed(0)} times). \`npm run bench\` has the stages.`,
);
rmSync(scratch, { recursive: true });
writeFileSync(OUT, await formatMarkdown(`${parts.join('\n\n')}\n`, { parser: 'markdown', printWidth: 110 }));
console.log(`${OUT} written`);
