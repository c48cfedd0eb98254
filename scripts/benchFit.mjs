// @ts-check
// Measures the engine that stretches and pitches against the ideal result, beside other engines, and writes
// docs/fit.md: `npm run bench:fit -- FOLDER [--seed N] [--only FAMILY] [--jitter MS]`. FOLDER holds the scorer.
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { format } from 'prettier';
import { bundleNode } from './lib/bundle.mjs';
import { giveUp, say } from './lib/say.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    seed: { type: 'string', default: '1' },
    only: { type: 'string' },
    jitter: { type: 'string', default: '0' },
  },
});
if (positionals.length !== 1) giveUp('npm run bench:fit -- FOLDER [--seed N] [--only FAMILY] [--jitter MS]');
const folder = resolve(positionals[0]);
const OUT = 'docs/fit.md';
const PICTURES = 'docs/fit/attacks-and-spectra.svg';
/** What is drawn: jobs, and how many attacks come before the one that is shown (null: a spectrum). @type {[job: string, title: string, attack: number | null][]} */
const DRAWN = [
  ['drums_four__ratio_1.25_0', 'drums, 1.25 times as long', 5],
  ['bass_line__ratio_1.5_0', 'bass, 1.5 times as long', 3],
  ['pluck_plain__pitch_1_3', 'a pluck, 3 semitones higher', 3],
  ['pad_triad__ratio_1.25_0', 'a pad, 1.25 times as long', null],
  ['drums_break__ratio_1.25_0', 'drums, 1.25 times as long', null],
  ['voice_low__pitch_1_-3', 'a voice, 3 semitones lower', null],
];

/** Figures by family: what it is called, its unit, what is wanted of it, and whether the best is the least. */
/** @type {[family: string, figure: string, words: string, wanted: string][]} */
const ROWS = [
  ['drums', 'att_ms', 'attack error, ms', '0.2'],
  ['drums', 'att_ms95', 'attack error, 95 %, ms', '0.5'],
  ['drums', 'att_missing', 'attacks missing, %', '0'],
  ['drums', 'att_doubled', 'attacks doubled, %', '0'],
  ['drums', 'preecho_db', 'pre-echo, dB', '−50'],
  ['drums', 'lsd_short', 'spectral distance, short, dB', '3.7'],
  ['drums', 'lsd_long', 'spectral distance, long, dB', '2.2'],
  ['drums', 'level_db', 'level, dB (its size)', '0.2'],
  ['drums', 'punch_db', 'punch, dB', '± 0.2'],
  ['mix', 'att_ms', 'attack error, ms', '0.2'],
  ['mix', 'lsd_short', 'spectral distance, short, dB', '3.5'],
  ['mix', 'lsd_long', 'spectral distance, long, dB', '2.0'],
  ['mix', 'mono_db', 'mono sum, dB', '0.05'],
  ['mix', 'ipd_deg', 'phase left–right, degrees', '3'],
  ['chords', 'pitch_cents', 'pitch, cents', '1'],
  ['chords', 'ripple_db', 'ripple, dB', '0.5'],
  ['chords', 'spurious_db', 'spurious, dB', '−55'],
  ['chords', 'seam_click_db', 'click at the seam, dB', '3'],
  ['chords', 'seam_lsd', 'distance at the seam, dB', '0.5'],
  ['tones', 'pitch_cents', 'pitch, cents', '0.05'],
  ['tones', 'spurious_db', 'spurious, dB', '−70'],
  ['melody', 'att_ms', 'attack error, ms', '0.3'],
  ['melody', 'lsd_long', 'spectral distance, long, dB', '1.2'],
  ['bass', 'att_ms', 'attack error, ms', '0.6'],
  ['bass', 'pitch_cents', 'pitch, cents', '0.1'],
  ['voice', 'lsd_long', 'spectral distance, long, dB', '1.0'],
  ['held', 'formant_cents', 'held formants, cents', '15'],
  ['held', 'lsd_long', 'distance with held formants, dB', '2.5'],
  ['noise', 'level_db', 'level, dB (its size)', '0.2'],
  ['noise', 'noise_repeat', 'repeats', '0.01'],
  ['all', 'identity_snr', 'ratio 1, pitch 0: signal to noise, dB', '140'],
  ['all', 'len_ppm', 'length, parts in a million', '0'],
];
const FAMILIES = {
  drums: 'drum loops',
  mix: 'mixes',
  chords: 'chords, pads',
  tones: 'single tones',
  melody: 'plucks',
  bass: 'bass',
  voice: 'voice',
  held: 'voice',
  noise: 'noise',
  all: 'everything',
};
const OTHERS = ['signalsmith', 'rubberband-r3', 'soundtouchjs', 'sox'];

/** @typedef {{ family: string, kind: string, formant: number, ratio: number, semitones: number, item: string, cpu: number, samples: number, figures: Record<string, number> }} Job */

/** The mean of a figure over the jobs of a family that ask for something. @param {Job[]} jobs @param {string} family @param {string} figure */
function meanOf(jobs, family, figure) {
  const found = jobs.filter(
    (job) =>
      (family === 'all' || job.family === (family === 'held' ? 'voice' : family)) &&
      (family === 'held') === (job.formant === 1 && family !== 'all') &&
      (figure.startsWith('identity') || !(job.ratio === 1 && job.semitones === 0)) &&
      (family !== 'noise' || job.item === 'noise_steady'),
  );
  const numbers = found
    .flatMap(({ figures }) => figures[figure] ?? [])
    .map((value) => (figure === 'level_db' ? Math.abs(value) : value));
  return numbers.length ? numbers.reduce((sum, value) => sum + value, 0) / numbers.length : null;
}

const scratch = mkdtempSync(join(tmpdir(), 'grento-fit-'));
/** @param {string[]} args */
const python = (...args) => {
  const { status, stderr, stdout } = spawnSync('python3', args, { cwd: scratch, encoding: 'utf8' });
  if (status !== 0) giveUp(`${args[0]} failed:\n${stderr || stdout}`);
};
/** Makes the ideal result of a job that is drawn. @param {(typeof DRAWN)[number]} drawn */
function panelOf([job, title, attack]) {
  python(
    'run.py',
    ...['--signals', 'signals', '--jobs', 'jobs-core.json', '--only', job],
    ...['--out', 'ideal', '--name', job, '--engine', '@ideal'],
  );
  const [item] = job.split('__');
  /** @type {{ name: string, n: number, attacks: number[] }[]} */
  const items = readFileSync(join(scratch, 'signals', 'truth.jsonl'), 'utf8')
    .trim()
    .split('\n')
    .map((text) => JSON.parse(text));
  const truth = items.find(({ name }) => name === item);
  const [told] = readFileSync(join(scratch, 'ideal', job, 'run.jsonl'), 'utf8').split('\n');
  return {
    title,
    ideal: join(scratch, 'ideal', job, `${job}.wav`),
    ours: join(scratch, 'runs', 'grento', `${job}.wav`),
    attack: attack === null || !truth ? null : (truth.attacks[attack] * JSON.parse(told).samples) / truth.n,
  };
}

try {
  for (const name of readdirSync(folder))
    if (/\.(py|json)$/.test(name)) copyFileSync(join(folder, name), join(scratch, name));
  const [engine, drawing] = await bundleNode(['scripts/fit.ts', 'scripts/fitPictures.ts']);
  say('Making the signals …');
  python('make_signals.py', 'signals', '--seed', values.seed);
  const command = `node ${engine} {in} {out} --ratio {ratio} --semitones {semitones} --samples {samples} --formants {formant} --known {job}`;
  const shared = [
    '--signals',
    'signals',
    '--jobs',
    'jobs-core.json',
    ...(values.only ? ['--only', values.only] : []),
  ];
  say('Stretching …');
  python(
    'run.py',
    ...shared,
    '--out',
    'runs',
    '--name',
    'grento',
    '--engine',
    command,
    '--attack-jitter',
    values.jitter,
  );
  say('Scoring …');
  python('score.py', ...shared, '--runs', 'runs', '--names', 'grento', '--out', 'grento.json');
  /** @type {Job[]} */
  const ours = JSON.parse(readFileSync(join(scratch, 'grento.json'), 'utf8')).grento.jobs;
  /** @type {Record<string, { jobs: Job[] }>} */
  const known = JSON.parse(readFileSync(join(folder, 'results', 'core-seed1.json'), 'utf8'));
  const figure = (/** @type {number | null} */ value) =>
    value === null ? '–' : String(Number(value.toPrecision(3))).replace('-', '−');
  const lines = ROWS.filter(([family, name]) => meanOf(ours, family, name) !== null).map(
    ([family, name, words, wanted]) =>
      `| ${FAMILIES[/** @type {keyof typeof FAMILIES} */ (family)]} | ${words} | **${figure(meanOf(ours, family, name))}** | ${wanted} | ${OTHERS.map((other) => figure(meanOf(known[other].jobs, family, name))).join(' | ')} | ${figure(meanOf(known.ideal.jobs, family, name))} |`,
  );
  const cpu =
    ours.reduce((sum, job) => sum + job.cpu, 0) / (ours.reduce((sum, job) => sum + job.samples, 0) / 44_100);
  const text = `# How well samples are bent

Means over ${ours.length} jobs (ratios 0.75 to 1.5, −7 to +7 semitones) on synthetic signals whose ideal result is known (seed ${values.seed}${values.jitter === '0' ? '' : `, attacks handed over ${values.jitter} ms off`}); written by \`npm run bench:fit\`. “Perfect” is a
perfect re-synthesis with other noise. The other engines are general-purpose open ones, which do not know the attacks; their
figures are those of seed 1. [method](method.md) tells how times are measured, \`src/core/timeStretch\` how samples are bent.

| signals | figure | Grento | wanted | ${OTHERS.join(' | ')} | perfect |
| --- | --- | --- | --- | ${OTHERS.map(() => '---').join(' | ')} | --- |
${lines.join('\n')}

CPU: ${cpu.toFixed(3)} s for each second of sound, the start of the process (0.3 s) included.

![Three attacks and three spectra: ours beside the ideal results](fit/attacks-and-spectra.svg)
`;
  if (values.only) say(lines.join('\n'));
  else {
    writeFileSync(OUT, await format(text, { parser: 'markdown', printWidth: 110 }));
    say('Drawing …');
    const { fitPictures } = await import(drawing);
    writeFileSync(PICTURES, await fitPictures(DRAWN.map(panelOf)));
  }
} finally {
  rmSync(scratch, { recursive: true, force: true });
}
