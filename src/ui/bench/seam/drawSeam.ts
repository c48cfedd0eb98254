import type { ScaleLinear } from 'd3-scale';
import type { Inks } from '../../trace/useInks';
import { drawWaveform, type Drawable } from '../../trace/waveform';

/**
 * Draws what is heard at the turn of a loop: to the left of the middle the end, to the right the beginning;
 * pale beyond it what the file goes on with, so that a cut tail is seen.
 */
export function drawSeam(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  height: number,
  inks: Inks,
  audio: Drawable,
  { start, end }: { start: number; end: number },
) {
  const [, seconds] = x.domain();
  const middle = Math.round(x(0));
  const width = x.range()[1];
  context.fillStyle = inks.sheet;
  context.fillRect(0, 0, width, height);
  context.fillStyle = inks.rule;
  for (const time of x.ticks(12)) context.fillRect(Math.round(x(time)), 0, 1, height - 14);
  context.fillRect(0, Math.round((height - 14) / 2), width, 1);
  const gain = gainAround(audio, [end - seconds, end], [start, start + seconds]);
  const box = (left: number, right: number) => ({ x: left, y: 4, width: right - left, height: height - 22 });
  const wave = (from: number, to: number, left: number, right: number, ink: string) =>
    drawWaveform(context, audio, { from, to }, box(left, right), ink, gain);
  // The file's own neighbours, then what is heard over them.
  wave(end, end + seconds, middle, width, inks.rule);
  wave(start - seconds, start, 0, middle, inks.rule);
  wave(end - seconds, end, 0, middle, inks.trace);
  wave(start, start + seconds, middle, width, inks.trace);
  context.fillStyle = inks.one;
  context.fillRect(middle - 1, 0, 2, height - 14);
  context.font = '10px "Spline Sans Mono Variable", monospace';
  context.textBaseline = 'middle';
  context.fillStyle = inks['ink-soft'];
  for (const time of x.ticks(6)) {
    if (time === 0) continue;
    const ms = time * 1000;
    context.textAlign = 'center';
    context.fillText(`${ms > 0 ? '+' : '−'}${Number(Math.abs(ms).toFixed(2))} ms`, x(time), height - 7);
  }
  context.textAlign = 'right';
  context.fillText('end', middle - 8, 10);
  context.textAlign = 'left';
  context.fillText('beginning', middle + 8, 10);
}

function gainAround({ channels, sampleRate }: Drawable, ...stretches: [number, number][]): number {
  let loudest = 1e-3;
  for (const [from, to] of stretches)
    for (const channel of channels)
      for (
        let i = Math.max(0, Math.floor(from * sampleRate));
        i < Math.min(channel.length, to * sampleRate);
        i++
      )
        loudest = Math.max(loudest, Math.abs(channel[i]));
  return 0.95 / loudest;
}
