import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { hannWindow, realFft } from '../src/core/signal/fft';
import { decodeWhole } from './lib/decodeWhole';

/** A result beside the ideal one: about an attack, or the spectrum of all of it. */
export interface FitPanel {
  title: string;
  ideal: string;
  ours: string;
  /** Frame of the attack in the result; null: a spectrum. */
  attack: number | null;
}

const PANEL = { width: 300, height: 170, left: 34, right: 10, top: 26, bottom: 26 };
const COLUMNS = 3;
/** What is shown about an attack, ms, and of a spectrum: Hz, and dB below the loudest. */
const ABOUT = [-8, 30] as const;
const BAND = [40, 16_000] as const;
const DEEP = 80;
const FRAME = 8192;
/** Ink of the ideal result and of ours. */
const INKS = { ideal: '#c2410c', ours: '#1c1917' };

/** Draws panels, three in a row, as one SVG: the ideal result broad, ours a thin line on it. */
export async function fitPictures(panels: readonly FitPanel[]): Promise<string> {
  const drawn = await Promise.all(panels.map(drawPanel));
  const rows = Math.ceil(panels.length / COLUMNS);
  const [width, height] = [COLUMNS * PANEL.width, rows * PANEL.height + 20];
  const placed = drawn.map(
    (panel, i) =>
      `<g transform="translate(${(i % COLUMNS) * PANEL.width},${Math.floor(i / COLUMNS) * PANEL.height})">${panel}</g>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="11">
<rect width="${width}" height="${height}" fill="#fffdf8"/>
${placed.join('\n')}
<text x="34" y="${height - 7}" fill="${INKS.ideal}">broad: the ideal result</text><text x="190" y="${height - 7}" fill="${INKS.ours}">thin: ours</text>
</svg>
`;
}

async function drawPanel({ title, ideal, ours, attack }: FitPanel): Promise<string> {
  const [a, b] = await Promise.all([decodeWhole(ideal), decodeWhole(ours)]);
  const shown = attack === null ? spectra([a, b]) : waves([a, b], attack);
  const { left, right, top, bottom, width, height } = PANEL;
  return `<text x="${left}" y="${top - 9}" font-weight="600">${title}</text>
<rect x="${left}" y="${top}" width="${width - left - right}" height="${height - top - bottom}" fill="none" stroke="#d6d3d1"/>
${shown.ticks}
<path d="${shown.paths[0]}" fill="none" stroke="${INKS.ideal}" stroke-opacity="0.45" stroke-width="3"/>
<path d="${shown.paths[1]}" fill="none" stroke="${INKS.ours}" stroke-width="0.9"/>`;
}

type Sound = Awaited<ReturnType<typeof decodeWhole>>;
interface Shown {
  paths: string[];
  ticks: string;
}

const across = [PANEL.left, PANEL.width - PANEL.right];
const upwards = [PANEL.height - PANEL.bottom, PANEL.top];

function tick(x: number, text: string): string {
  const y = PANEL.height - PANEL.bottom;
  return `<path d="M${x.toFixed(1)},${y}v4" stroke="#78716c"/><text x="${x.toFixed(1)}" y="${y + 15}" text-anchor="middle" fill="#57534e">${text}</text>`;
}

function waves(sounds: readonly Sound[], attack: number): Shown {
  const { rate } = sounds[0];
  const [from, to] = ABOUT.map((ms) => Math.round(attack + (ms * rate) / 1000));
  const pieces = sounds.map(({ channels }) => channels[0].subarray(Math.max(0, from), to));
  const most = Math.max(...pieces.flatMap((piece) => [...piece].map(Math.abs)), 1e-6);
  const x = scaleLinear([0, to - from], across);
  const y = scaleLinear([-most, most], upwards);
  const path = line<number>()
    .x((_, i) => Number(x(i).toFixed(1)))
    .y((value) => Number(y(value).toFixed(1)));
  return {
    paths: pieces.map((piece) => path([...piece]) ?? ''),
    ticks: [0, 10, 20].map((ms) => tick(x((ms * rate) / 1000 - from + attack), `${ms} ms`)).join(''),
  };
}

function spectra(sounds: readonly Sound[]): Shown {
  const { rate } = sounds[0];
  const x = scaleLog(BAND, across);
  const all = sounds.map(powerOf);
  const top = Math.max(...all.flatMap((power) => [...power]));
  const y = scaleLinear([-DEEP, 0], upwards).clamp(true);
  // The loudest bin of each column of the picture.
  const columns = new Map<number, number[]>();
  for (let k = Math.ceil((BAND[0] * FRAME) / rate); k <= (BAND[1] * FRAME) / rate; k++) {
    const column = Math.round(x((k * rate) / FRAME));
    columns.set(column, [...(columns.get(column) ?? []), k]);
  }
  return {
    paths: all.map(
      (power) =>
        line<[number, number[]]>()
          .x(([column]) => column)
          .y(([, bins]) => {
            const most = Math.max(...bins.map((k) => power[k]));
            return Number(y(10 * Math.log10(Math.max(1e-30, most / top))).toFixed(1));
          })([...columns]) ?? '',
    ),
    ticks: [100, 1000, 10_000].map((hz) => tick(x(hz), hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`)).join(''),
  };
}

/** Mean power of each bin over the whole sound. */
function powerOf({ channels }: Sound): Float64Array {
  const fft = realFft(FRAME);
  const window = hannWindow(FRAME);
  const power = new Float64Array(FRAME / 2);
  for (let at = 0; at + FRAME <= channels[0].length; at += FRAME / 2) {
    fft.input.set(channels[0].subarray(at, at + FRAME).map((value, i) => value * window[i]));
    const bins = fft.forward();
    for (let k = 1; k < FRAME / 2; k++) power[k] += bins[2 * k] ** 2 + bins[2 * k + 1] ** 2;
  }
  return power;
}
