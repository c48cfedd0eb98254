import { peakColumns, type PeakPyramid } from '@/core/signal/peaks';

export interface Window {
  from: number;
  to: number;
}

/** What a waveform is drawn from; without channels (the audio is still on its way) it has no single samples. */
export interface Drawable {
  peaks: PeakPyramid;
  channels: readonly Float32Array[];
  sampleRate: number;
  durationSeconds: number;
}

/** Below this many sample frames per pixel the samples themselves are drawn, joined by lines. */
const FINE_FRAMES_PER_PIXEL = 12;

/** Draws the stretch `view` of a recording into a box, full scale ±1 about its middle times `gain`. */
export function drawWaveform(
  context: CanvasRenderingContext2D,
  audio: Omit<Drawable, 'durationSeconds'>,
  view: Window,
  box: { x: number; y: number; width: number; height: number },
  colour: string,
  gain: number,
) {
  const { x, y, width, height } = box;
  const middle = y + height / 2;
  const half = (height / 2) * gain;
  const limit = (value: number) => Math.max(y, Math.min(y + height, value));
  const framesPerPixel = ((view.to - view.from) * audio.sampleRate) / width;
  context.save();
  context.beginPath();
  context.rect(x, y, width, height);
  context.clip();
  if (framesPerPixel > FINE_FRAMES_PER_PIXEL || audio.channels.length === 0) {
    const density = 1;
    const columns = Math.max(1, Math.round(width * density));
    const extremes =
      framesPerPixel >= audio.peaks.levels[0].binFrames || audio.channels.length === 0
        ? peakColumns(audio.peaks, view.from, view.to, columns)
        : exactColumns(audio, view, columns);
    context.fillStyle = colour;
    for (let c = 0; c < columns; c++) {
      const low = extremes[2 * c];
      if (Number.isNaN(low)) continue;
      const top = limit(middle - extremes[2 * c + 1] * half);
      const bottom = limit(middle - low * half);
      context.fillRect(x + c / density, top, 1 / density, Math.max(1, bottom - top));
    }
  } else {
    const { channels, sampleRate } = audio;
    const first = Math.max(0, Math.floor(view.from * sampleRate) - 1);
    const last = Math.min(channels[0].length - 1, Math.ceil(view.to * sampleRate) + 1);
    context.strokeStyle = colour;
    context.lineWidth = 1.3;
    context.beginPath();
    for (let i = first; i <= last; i++) {
      const px = x + ((i / sampleRate - view.from) / (view.to - view.from)) * width;
      const py = middle - meanAt(channels, i) * half;
      if (i === first) context.moveTo(px, py);
      else context.lineTo(px, py);
    }
    context.stroke();
    if (framesPerPixel < 0.2) {
      context.fillStyle = colour;
      for (let i = first; i <= last; i++) {
        const px = x + ((i / sampleRate - view.from) / (view.to - view.from)) * width;
        context.fillRect(px - 2, middle - meanAt(channels, i) * half - 2, 4, 4);
      }
    }
  }
  context.restore();
}

function exactColumns(
  { channels, sampleRate }: Pick<Drawable, 'channels' | 'sampleRate'>,
  view: Window,
  columns: number,
): Float32Array {
  const out = new Float32Array(columns * 2).fill(NaN);
  const perColumn = ((view.to - view.from) * sampleRate) / columns;
  const length = channels[0].length;
  for (let c = 0; c < columns; c++) {
    const first = Math.max(0, Math.floor(view.from * sampleRate + c * perColumn));
    const last = Math.min(length, Math.ceil(view.from * sampleRate + (c + 1) * perColumn));
    for (let i = first; i < last; i++) {
      const value = meanAt(channels, i);
      if (!(value >= out[2 * c])) out[2 * c] = value;
      if (!(value <= out[2 * c + 1])) out[2 * c + 1] = value;
    }
  }
  return out;
}

function meanAt(channels: readonly Float32Array[], i: number): number {
  return channels.length === 1 ? channels[0][i] : 0.5 * (channels[0][i] + channels[1][i]);
}

/** The gain that lets the loudest place fill most of the height. */
export function fittingGain(peaks: PeakPyramid): number {
  let loudest = 1e-4;
  const coarsest = peaks.levels[peaks.levels.length - 1];
  for (let i = 0; i < coarsest.min.length; i++)
    loudest = Math.max(loudest, -coarsest.min[i], coarsest.max[i]);
  return 0.94 / loudest;
}
