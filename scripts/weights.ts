import { createReadStream, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { chromaFrames } from '../src/core/harmony/chroma';
import { HARMONY_RATE, pitchPeaks } from '../src/core/harmony/pitchSpectrum';
import { estimateTuning } from '../src/core/harmony/tuning';
import { decodeAudio } from '../src/core/formats/decode';
import { BAR_WEIGHTS, LEVEL_WEIGHTS, weighed } from '../src/core/rhythm/evidenceWeights';
import { feltBeatsPerBar } from '../src/core/rhythm/grid';
import { rhythmHypotheses } from '../src/core/rhythm/meterHypotheses';
import { ANALYSIS_RATE, onsetFeatures } from '../src/core/rhythm/onsetFeatures';
import { findOnsets } from '../src/core/rhythm/onsets';
import { periodicity } from '../src/core/rhythm/tempogram';
import { growingArray } from '../src/core/signal/growingArray';
import { mixToMono } from '../src/core/signal/pcm';
import { createResampler, resample, type Resampler } from '../src/core/signal/resample';

const HELP = `npm run weights -- [--keep FILE] TRUTH.jsonl…

Fits the weights in src/core/rhythm/evidenceWeights.ts on recordings with known truth (a conditional logit:
the share of belief that goes to right hypotheses is maximised) and prints them, with the accuracy on
held-out items. --keep stores the observations in FILE, or uses those that are there.`;

type Observations = Record<string, number>;
interface Item {
  id: string;
  group: string;
  levels: {
    right: boolean;
    observations: Observations;
    bars: { right: boolean; observations: Observations }[];
  }[];
}

interface Truth {
  id: string;
  file: string;
  group?: string;
  piece?: string;
  kind: string;
  bpm: number | null;
  bpmAlt?: number | number[] | null;
  beats?: number[] | null;
  downbeats: number[] | null;
  meter?: { beatsPerBar: number; beatUnit: number; pulsesPerBar?: number } | null;
  beatsPerBar?: number | null;
  beatUnit?: number | null;
}

async function observe(truth: Truth, folder: string): Promise<Item | null> {
  const path = join(folder, truth.file);
  if (!truth.bpm || path.endsWith('.mid') || !existsSync(path)) return null;
  let resampler: Resampler | null = null;
  const samples = growingArray();
  await decodeAudio(createReadStream(path), (block, rate) => {
    resampler ??= createResampler(rate, ANALYSIS_RATE);
    samples.append(resampler.push(mixToMono(block)));
  });
  samples.append(resampler!.finish());
  const mono = samples.view();
  const features = onsetFeatures(mono);
  const onsets = findOnsets(features, mono);
  const peaks = pitchPeaks(resample(mono, ANALYSIS_RATE, HARMONY_RATE));
  const chroma = chromaFrames(peaks, estimateTuning(peaks));
  const hypotheses = rhythmHypotheses(features, onsets, chroma.all, periodicity(features.strength));
  const tempi = [truth.bpm, ...[truth.bpmAlt ?? []].flat()];
  const meter =
    truth.meter ??
    (truth.beatsPerBar && truth.beatUnit
      ? { beatsPerBar: truth.beatsPerBar, beatUnit: truth.beatUnit }
      : null);
  const felt = meter && feltBeatsPerBar(meter);
  const levels = hypotheses.map(({ bpm, beats, bars, observations }) => {
    const placed = Array.from(beats).filter((beat) =>
      truth.beats?.some((known) => Math.abs(beat - known) < 0.07),
    ).length;
    const right =
      tempi.some((tempo) => Math.abs(bpm / tempo - 1) < 0.04) &&
      (!truth.beats || placed > 0.6 * beats.length);
    return {
      right,
      observations,
      bars: bars.map(({ beatsPerBar, phase, observations: seen }) => {
        const lines = Array.from(beats).filter((_, k) => k >= phase && (k - phase) % beatsPerBar === 0);
        const near = lines.filter((line) =>
          truth.downbeats?.some((downbeat) => Math.abs(line - downbeat) < 0.07),
        ).length;
        return { right: right && felt === beatsPerBar && near > 0.6 * lines.length, observations: seen };
      }),
    };
  });
  return { id: truth.id, group: truth.group ?? truth.piece ?? truth.id, levels };
}

interface Choice {
  group: string;
  options: { right: boolean; observations: Observations }[];
}

/** Maximum likelihood with a ridge towards 0, by gradient descent on observations scaled to unit spread. */
function fit(choices: Choice[], names: string[], ridge: number): Observations {
  const usable = choices.filter(({ options }) => options.some(({ right }) => right) && options.length > 1);
  const spread = names.map((name) => {
    let sum = 0;
    let count = 0;
    for (const { options } of usable) {
      const mean =
        options.reduce((total, { observations }) => total + (observations[name] ?? 0), 0) / options.length;
      for (const { observations } of options) sum += ((observations[name] ?? 0) - mean) ** 2;
      count += options.length;
    }
    return Math.sqrt(sum / Math.max(1, count)) || 1;
  });
  const weights = new Float64Array(names.length);
  for (let step = 0; step < 1500; step++) {
    const gradient = weights.map((weight) => -ridge * weight);
    for (const { options } of usable) {
      const x = options.map(({ observations }) =>
        names.map((name, n) => (observations[name] ?? 0) / spread[n]),
      );
      const scores = x.map((row) => row.reduce((sum, value, n) => sum + value * weights[n], 0));
      const top = Math.max(...scores);
      const beliefs = scores.map((score) => Math.exp(score - top));
      const all = beliefs.reduce((a, b) => a + b, 0);
      const rightOnes = beliefs.reduce((sum, belief, i) => sum + (options[i].right ? belief : 0), 0);
      options.forEach(({ right }, i) => {
        const pull = (right ? beliefs[i] / Math.max(1e-12, rightOnes) : 0) - beliefs[i] / all;
        for (let n = 0; n < names.length; n++) gradient[n] += pull * x[i][n];
      });
    }
    for (let n = 0; n < names.length; n++) weights[n] += (0.8 / Math.max(20, usable.length)) * gradient[n];
  }
  return Object.fromEntries(
    names.map((name, n) => [name, Math.round((weights[n] / spread[n]) * 1000) / 1000]),
  );
}

function accuracy(choices: Choice[], weights: Observations): number {
  const usable = choices.filter(({ options }) => options.some(({ right }) => right));
  const hits = usable.filter(({ options }) => {
    const scores = options.map(({ observations }) => weighed(observations, weights));
    return options[scores.indexOf(Math.max(...scores))].right;
  });
  return hits.length / Math.max(1, usable.length);
}

function crossValidated(choices: Choice[], names: string[], ridge: number): number {
  const groups = [...new Set(choices.map(({ group }) => group))].sort();
  let hits = 0;
  let count = 0;
  for (let fold = 0; fold < 6; fold++) {
    const held = new Set(groups.filter((_, i) => i % 6 === fold));
    const test = choices.filter(
      ({ group, options }) => held.has(group) && options.some(({ right }) => right),
    );
    const weights = fit(
      choices.filter(({ group }) => !held.has(group)),
      names,
      ridge,
    );
    hits += accuracy(test, weights) * test.length;
    count += test.length;
  }
  return hits / count;
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

const args = process.argv.slice(2);
const keepAt = args.indexOf('--keep');
const kept = keepAt >= 0 ? args[keepAt + 1] : null;
const truthFiles = args.filter((arg, i) => !arg.startsWith('--') && (keepAt < 0 || i !== keepAt + 1));
if (args.includes('--help') || (truthFiles.length === 0 && !(kept && existsSync(kept)))) {
  console.log(HELP);
  process.exit(args.includes('--help') ? 0 : 2);
}
let items: Item[] = [];
if (kept && existsSync(kept)) items = JSON.parse(readFileSync(kept, 'utf8')) as Item[];
else {
  for (const file of truthFiles) {
    for (const line of readFileSync(file, 'utf8').trim().split('\n')) {
      const item = await observe(JSON.parse(line) as Truth, dirname(file)).catch((error: Error) => {
        console.error(error.message);
        return null;
      });
      if (item) items.push(item);
    }
  }
  if (kept) writeFileSync(kept, JSON.stringify(items));
}

const barChoices: Choice[] = items.flatMap(({ group, levels }) =>
  levels.filter(({ right }) => right).map(({ bars }) => ({ group, options: bars })),
);
const barNames = Object.keys(BAR_WEIGHTS);
const barWeights = fit(barChoices, barNames, 2);
console.log(
  'bars now',
  percent(accuracy(barChoices, BAR_WEIGHTS)),
  'fitted',
  percent(accuracy(barChoices, barWeights)),
  'held out',
  percent(crossValidated(barChoices, barNames, 2)),
);
console.log(JSON.stringify(barWeights, null, 1));

const levelChoices: Choice[] = items.map(({ group, levels }) => ({
  group,
  options: levels.map(({ right, observations, bars }) => ({
    right,
    observations: {
      ...observations,
      bars: Math.max(...bars.map((bar) => weighed(bar.observations, barWeights))),
    },
  })),
}));
const levelNames = Object.keys(LEVEL_WEIGHTS);
const levelWeights = fit(levelChoices, levelNames, 2);
const present = levelChoices.filter(({ options }) => options.some(({ right }) => right)).length;
console.log(`${present} of ${items.length} items have a right hypothesis`);
console.log(
  'levels now',
  percent(accuracy(levelChoices, LEVEL_WEIGHTS)),
  'fitted',
  percent(accuracy(levelChoices, levelWeights)),
  'held out',
  percent(crossValidated(levelChoices, levelNames, 2)),
);
console.log(JSON.stringify(levelWeights, null, 1));
