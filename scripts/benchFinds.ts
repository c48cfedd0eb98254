import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { measuredGrid } from '../src/core/measurement/measuredGrid';
import { measureStream } from '../src/core/measurement/measureStream';
import { findsIn } from '../src/core/recipes/finds';
import { barTime, barsUntil, type Grid } from '../src/core/rhythm/grid';
import { hannWindow, realFft } from '../src/core/signal/fft';
import { median } from '../src/core/math/median';
import { mixToMono } from '../src/core/signal/pcm';
import { decodeWhole } from './lib/decodeWhole';

const HELP = `npm run -s bench:finds -- FILE…

Says of the first ten stretches that are found in each recording whether they go round without an audible fault: no crack at the turn
(a jump of the wave over four usual differences), and what is heard in the 280 ms after it is as near to what the recording itself
goes on with as any two bars of it begin alike (spectrum in 24 bands, dB). This is judged from the audio itself; finding goes by
other things (hits by place, notes).`;

const FIRST = 10;
const SIZE = 2048;
const BANDS = 24;
/** Where after the turn is listened, seconds. */
const PLACES = [0, 0.046, 0.14, 0.234];
const CRACKS = 4;

const files = process.argv.slice(2);
if (files.length === 0 || files.includes('--help')) {
  console.log(HELP);
  process.exit(files.length === 0 ? 2 : 0);
}
const fft = realFft(SIZE);
const window = hannWindow(SIZE);

/** Level of 24 bands of equal width in octaves, dB. */
function spectrumAt(mono: Float32Array, rate: number, seconds: number): number[] {
  const from = Math.max(0, Math.round(seconds * rate));
  for (let n = 0; n < SIZE; n++) fft.input[n] = (mono[from + n] ?? 0) * window[n];
  // Pairs of real and imaginary part.
  const bins = fft.forward();
  const bands = new Array<number>(BANDS).fill(1e-9);
  for (let k = 2; k < SIZE / 2; k++) {
    const octave = Math.log2((k * rate) / SIZE / 60);
    const band = Math.floor((octave / 8) * BANDS);
    if (band >= 0 && band < BANDS) bands[band] += bins[2 * k] ** 2 + bins[2 * k + 1] ** 2;
  }
  return bands.map((power) => 10 * Math.log10(power));
}

/** Root mean square difference of what is heard from two places on, dB; what is inaudible in both counts as alike. */
function apart(mono: Float32Array, rate: number, a: number, b: number): number {
  let sum = 0;
  let count = 0;
  for (const place of PLACES) {
    const [x, y] = [spectrumAt(mono, rate, a + place), spectrumAt(mono, rate, b + place)];
    const floor = Math.max(...x, ...y) - 45;
    x.forEach((value, i) => {
      sum += (Math.max(floor, value) - Math.max(floor, y[i])) ** 2;
      count++;
    });
  }
  return Math.sqrt(sum / count);
}

let good = 0;
let judged = 0;
for (const file of files) {
  const { channels, rate: sampleRate } = await decodeWhole(file);
  const { traces, measurement } = await measureStream(() => createReadStream(file), { traced: true });
  const mono = mixToMono(channels);
  const durationSeconds = channels[0].length / sampleRate;
  const grid = measuredGrid(measurement);
  const begun = performance.now();
  const { stretches, hits } = findsIn(
    { channels, sampleRate, durationSeconds },
    traces!,
    measurement.onsets,
    grid,
  );
  const took = performance.now() - begun;
  const usual = grid ? usualDistance(mono, sampleRate, grid, durationSeconds) : 0;
  const said = stretches.slice(0, FIRST).map(({ bar, bars, shiftSeconds, seam, worth }) => {
    const [start, end] = [bar, bar + bars].map((line) => barTime(grid!, line) + shiftSeconds);
    const cracks = seam.stepRatio > CRACKS && Math.abs(seam.step) > 0.01;
    const follows = end + 0.3 < durationSeconds ? apart(mono, sampleRate, Math.max(0, start), end) : null;
    const differs = follows !== null && follows > usual;
    judged++;
    if (!cracks && !differs) good++;
    return `${bars} from ${bar} (${worth.toFixed(2)}${follows === null ? '' : `, ${follows.toFixed(1)} dB`})${cracks ? ' CRACKS' : ''}${differs ? ' DIFFERS' : ''}`;
  });
  console.log(
    `${basename(file)}: ${stretches.length} stretches, ${hits.length} hits in ${took.toFixed(0)} ms; two bars begin ${usual.toFixed(1)} dB apart\n  ${said.join('\n  ')}`,
  );
}
console.log(`${good} of ${judged} of the first ${FIRST} finds go round without a fault`);

/** How far apart any two bars begin, in the middle, dB. */
function usualDistance(mono: Float32Array, rate: number, grid: Grid, duration: number): number {
  const bars = barsUntil(grid, duration - 0.5);
  const found: number[] = [];
  for (let i = 0; i < Math.min(60, bars); i++) {
    const [a, b] = [1 + ((i * 7) % bars), 1 + ((i * 13 + 5) % bars)];
    if (a !== b) found.push(apart(mono, rate, barTime(grid, a), barTime(grid, b)));
  }
  return found.length ? median(found) : 99;
}
