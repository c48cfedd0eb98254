import { mkdirSync, writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from 'd3-scale';
import { area, line } from 'd3-shape';
import { hearKeys, KEYS, observeKey } from '../src/core/harmony/key';
import { ALL_KEYS, tonicName } from '../src/core/harmony/keyNames';
import { totalChroma } from '../src/core/harmony/chroma';
import { measuredLineSchema } from '../src/core/measurement/measuredLine';
import { createListener, type Heard } from '../src/core/measurement/listening';
import { explainRhythm } from '../src/core/measurement/measure';
import { FRAME_RATE, ANALYSIS_RATE, REGISTERS } from '../src/core/rhythm/onsetFeatures';
import { combSalience, tempoCandidates } from '../src/core/rhythm/tempoCandidates';
import { periodicity } from '../src/core/rhythm/tempogram';
import { foldedPeriod } from '../src/core/rhythm/steadyFit';
import { makeEvidence, PLACES, readPatterns } from '../src/core/rhythm/patterns';
import { mixToMono } from '../src/core/signal/pcm';
import { resample } from '../src/core/signal/resample';
import { hobbyHorseJig, lanternSwing, lullaby } from '../src/demo/pieces';

/**
 * Writes what docs/ has from the code (`npm run docs`): the schema of the measuring command's output, and the
 * pictures of docs/method.md, drawn from the demo data.
 */

const WIDTH = 880;
const LEFT = 92;
const RIGHT = 16;
const INK = '#2b2b2b';
const FAINT = '#9a958c';
const TRACE = '#0f6a73';
const ACCENT = '#b4481e';
const FOLDER = 'docs/method';

const text = (
  x: number,
  y: number,
  words: string,
  options: { anchor?: string; fill?: string; size?: number } = {},
) =>
  `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" font-size="${options.size ?? 12}" fill="${options.fill ?? INK}" text-anchor="${options.anchor ?? 'start'}">${words}</text>`;
const path = (d: string | null, options: { fill?: string; stroke?: string; width?: number }) =>
  `<path d="${d ?? ''}" fill="${options.fill ?? 'none'}" stroke="${options.stroke ?? 'none'}" stroke-width="${options.width ?? 1}"/>`;
const rect = (x: number, y: number, width: number, height: number, fill: string, opacity = 1) =>
  `<rect x="${x.toFixed(1)}" y="${y.toFixed(1)}" width="${Math.max(0, width).toFixed(1)}" height="${Math.max(0, height).toFixed(1)}" fill="${fill}" fill-opacity="${opacity}"/>`;
const rule = (x1: number, y1: number, x2: number, y2: number, stroke = FAINT, width = 1) =>
  `<line x1="${x1.toFixed(1)}" y1="${y1.toFixed(1)}" x2="${x2.toFixed(1)}" y2="${y2.toFixed(1)}" stroke="${stroke}" stroke-width="${width}"/>`;

function save(name: string, height: number, parts: string[]) {
  writeFileSync(
    `${FOLDER}/${name}.svg`,
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" font-family="sans-serif"><rect width="${WIDTH}" height="${height}" fill="#fbf9f4"/>${parts.join('\n')}</svg>\n`,
  );
}

function ticks(
  scale: ScaleContinuousNumeric<number, number>,
  y: number,
  values: number[],
  unit: string,
): string[] {
  return [
    rule(LEFT, y, WIDTH - RIGHT, y),
    ...values.flatMap((value) => [
      rule(scale(value), y, scale(value), y + 5),
      text(scale(value), y + 18, String(value), { anchor: 'middle', fill: FAINT }),
    ]),
    text(LEFT - 24, y + 18, unit, { anchor: 'end', fill: FAINT }),
  ];
}

function hearPiece({ stage }: ReturnType<typeof lanternSwing>): Heard {
  const listener = createListener();
  listener.push(resample(mixToMono([stage.left, stage.right]), stage.sampleRate, ANALYSIS_RATE));
  return listener.finish();
}

/** Stage 1: what rises in each register, and the attacks that are found. */
function onsetPicture(heard: Heard) {
  const [from, to] = [0, 6];
  const x = scaleLinear([from, to], [LEFT, WIDTH - RIGHT]);
  const names = ['below 160 Hz', '160 – 800 Hz', '0.8 – 3.5 kHz', 'above 3.5 kHz', 'together'];
  const rows = [...heard.features.registers, heard.features.strength];
  const parts: string[] = [];
  rows.forEach((row, r) => {
    const base = 64 + r * 58;
    const y = scaleLinear([0, 14], [base, base - 52]).clamp(true);
    const frames = Array.from(row.subarray(from * FRAME_RATE, to * FRAME_RATE));
    parts.push(
      path(
        area<number>()
          .x((_, i) => x(i / FRAME_RATE))
          .y0(base)
          .y1((value) => y(value))(frames),
        { fill: r === REGISTERS ? INK : TRACE },
      ),
      text(LEFT - 8, base - 4, names[r], { anchor: 'end' }),
    );
  });
  for (const { time, strength } of heard.onsets)
    if (time < to && strength > 2) parts.push(rule(x(time), 8, x(time), 306, ACCENT, 0.6));
  parts.push(...ticks(x, 310, [0, 1, 2, 3, 4, 5, 6], 's'));
  save('onsets', 340, parts);
}

/** Stage 2: two tempograms that err in opposite ways, and their product. */
function tempoPicture(heard: Heard) {
  const periodic = periodicity(heard.features.strength);
  const bpms = Array.from({ length: 500 }, (_, i) => 40 * 7.2 ** (i / 499));
  const x = scaleLog([40, 288], [LEFT, WIDTH - RIGHT]);
  const curves: [string, (bpm: number) => number][] = [
    ['autocorrelation', (bpm) => Math.max(0, periodic.at(60 / bpm))],
    ['Fourier', (bpm) => periodic.fourierAt(60 / bpm)],
    ['comb × Fourier', (bpm) => combSalience(periodic, bpm)],
  ];
  const parts: string[] = [];
  curves.forEach(([name, of], r) => {
    const base = 84 + r * 88;
    const values = bpms.map(of);
    const y = scaleLinear([0, Math.max(...values)], [base, base - 74]);
    parts.push(
      path(
        line<number>()
          .x((_, i) => x(bpms[i]))
          .y((value) => y(value))(values),
        {
          stroke: r === 2 ? INK : TRACE,
          width: 1.6,
        },
      ),
      rule(LEFT, base, WIDTH - RIGHT, base),
      text(LEFT - 8, base - 4, name, { anchor: 'end' }),
    );
  });
  for (const { bpm } of tempoCandidates(periodic, 5)) {
    parts.push(
      rule(x(bpm), 10, x(bpm), 260, ACCENT, 0.8),
      text(x(bpm) + 4, 20, bpm.toFixed(1), { fill: ACCENT }),
    );
  }
  parts.push(...ticks(x, 266, [40, 60, 90, 120, 180, 288], 'BPM'));
  save('tempo', 296, parts);
}

/** Stage 3: the period at which the whole recording folds best. */
function foldPicture(heard: Heard) {
  const periodic = periodicity(heard.features.strength);
  const [best] = explainRhythm(heard);
  const period = 60 / best.bpm;
  const found = foldedPeriod(periodic, period * 1.004, heard.durationSeconds);
  const shifts = Array.from({ length: 600 }, (_, i) => -0.012 + (0.024 * i) / 599);
  const x = scaleLinear([-1.2, 1.2], [LEFT, WIDTH - RIGHT]);
  const score = (p: number) =>
    periodic.wholeAt(p) + 0.6 * periodic.wholeAt(p / 2) + 0.4 * periodic.wholeAt(p / 4);
  const values = shifts.map((shift) => score(period * (1 + shift)));
  const y = scaleLinear([0, Math.max(...values)], [150, 20]);
  const parts = [
    path(
      line<number>()
        .x((_, i) => x(shifts[i] * 100))
        .y((value) => y(value))(values),
      { stroke: TRACE, width: 1.6 },
    ),
    rule(x((found / period - 1) * 100), 16, x((found / period - 1) * 100), 150, ACCENT),
    text(x((found / period - 1) * 100) + 6, 70, `${(60 / found).toFixed(2)} BPM`, { fill: ACCENT }),
    text(LEFT - 8, 146, 'folds', { anchor: 'end' }),
    ...ticks(x, 152, [-1, -0.5, 0, 0.5, 1], '% off'),
  ];
  save('folding', 182, parts);
}

/** Stage 4: the bar folded over itself, register by register and place by place. */
function barPicture(heard: Heard) {
  const [best] = explainRhythm(heard);
  const evidence = makeEvidence(heard.features, heard.chroma.all, heard.chroma.bass);
  const patterns = readPatterns(evidence, best.beats);
  const size = best.bar.beatsPerBar;
  const columns = size * PLACES.length;
  const cell = (WIDTH - LEFT - RIGHT) / columns;
  const parts: string[] = [];
  const names = ['lowest', 'low', 'middle', 'high'];
  for (let r = 0; r < REGISTERS; r++) {
    const sums = new Float64Array(columns);
    const counts = new Float64Array(columns);
    for (let k = best.bar.phase; k < patterns.beats; k++)
      PLACES.forEach((_, place) => {
        const column = ((k - best.bar.phase) % size) * PLACES.length + place;
        sums[column] += patterns.onsets[(k * PLACES.length + place) * REGISTERS + r];
        counts[column]++;
      });
    const values = sums.map((sum, i) => sum / counts[i]);
    const top = Math.max(...values);
    values.forEach((value, column) =>
      parts.push(rect(LEFT + column * cell + 1, 24 + r * 34, cell - 2, 30, TRACE, value / top)),
    );
    parts.push(text(LEFT - 8, 24 + r * 34 + 20, names[r], { anchor: 'end' }));
  }
  for (let beat = 0; beat < size; beat++) {
    parts.push(
      rule(
        LEFT + beat * PLACES.length * cell,
        18,
        LEFT + beat * PLACES.length * cell,
        164,
        INK,
        beat ? 0.7 : 2,
      ),
    );
    parts.push(text(LEFT + beat * PLACES.length * cell + 4, 16, `beat ${beat + 1}`, { fill: INK }));
    PLACES.forEach((_, p) =>
      parts.push(
        text(LEFT + (beat * PLACES.length + p + 0.5) * cell, 178, ['0', '¼', '⅓', '½', '⅔', '¾'][p], {
          anchor: 'middle',
          fill: FAINT,
        }),
      ),
    );
  }
  save('bars', 190, parts);
}

/** Stage 5: the explanations that compete, with their share of belief. */
function beliefPicture(heard: Heard) {
  const hypotheses = explainRhythm(heard).slice(0, 9);
  const x = scaleLinear([0, 1], [LEFT + 190, WIDTH - RIGHT]);
  const parts = hypotheses.flatMap(({ bpm, origin, bar, sureness, beats }, i) => {
    const y = 12 + i * 24;
    const meter = bar.beatsPerBar === 2 ? '6/8' : `${bar.beatsPerBar}/${bar.beatsPerBar === 7 ? 8 : 4}`;
    const from = { hits: 'hits', length: 'length of the file', player: 'following' }[origin];
    return [
      text(
        12,
        y + 14,
        `${bpm.toFixed(2)} BPM in ${meter}, first beat ${(Math.round(beats[0] * 1000) / 1000 + 0).toFixed(3)} s, from ${from}`,
      ),
      rect(x(0) + 120, y, (x(sureness) - x(0)) * 0.75, 18, i ? FAINT : TRACE),
      text(x(0) + 126 + (x(sureness) - x(0)) * 0.75, y + 14, sureness.toFixed(3), { fill: FAINT }),
    ];
  });
  save('explanations', 24 + hypotheses.length * 24, parts);
}

/** Stage 6: chroma as it is heard, and the belief in each key. */
function keyPicture(heard: Heard) {
  const chroma = totalChroma(heard.chroma.all);
  const harmony = hearKeys(heard.chroma, heard.peaks);
  const scores = ALL_KEYS.map((key) => KEYS.score(observeKey(harmony, key)));
  const top = Math.max(...scores);
  const beliefs = scores.map((score) => Math.exp(score - top));
  const sum = beliefs.reduce((a, b) => a + b, 0);
  const parts: string[] = [
    text(LEFT - 8, 80, 'chroma', { anchor: 'end' }),
    text(LEFT - 8, 190, 'belief', { anchor: 'end' }),
  ];
  const half = (WIDTH - LEFT - RIGHT) / 12;
  chroma.forEach((value, note) => {
    const height = (value / Math.max(...chroma)) * 76;
    parts.push(rect(LEFT + note * half + 4, 90 - height, half - 8, height, TRACE));
    parts.push(
      text(LEFT + (note + 0.5) * half, 106, tonicName({ tonic: note, mode: 'major' }), { anchor: 'middle' }),
    );
  });
  const cell = (WIDTH - LEFT - RIGHT) / 24;
  ALL_KEYS.forEach((key, i) => {
    const height = (beliefs[i] / sum) * 66;
    parts.push(rect(LEFT + i * cell + 3, 200 - height, cell - 6, height, beliefs[i] === 1 ? ACCENT : FAINT));
    parts.push(
      text(LEFT + (i + 0.5) * cell, 216, `${tonicName(key)}${key.mode === 'minor' ? 'm' : ''}`, {
        anchor: 'middle',
        size: 11,
      }),
    );
  });
  save('key', 228, parts);
}

mkdirSync(FOLDER, { recursive: true });
const swing = hearPiece(lanternSwing());
onsetPicture(swing);
tempoPicture(swing);
foldPicture(swing);
barPicture(hearPiece(hobbyHorseJig()));
beliefPicture(swing);
keyPicture(hearPiece(lullaby()));
const schema = await format(JSON.stringify(measuredLineSchema()), { parser: 'json', printWidth: 110 });
writeFileSync('docs/measurement.schema.json', schema);
console.log(`six pictures in ${FOLDER} and docs/measurement.schema.json`);
