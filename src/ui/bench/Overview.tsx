'use client';
import { scaleLinear } from 'd3-scale';
import { useCallback, useMemo, useRef, type PointerEvent } from 'react';
import { beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Pin } from '@/core/rhythm/pins';
import { findEdges } from '@/core/signal/edges';
import { usePlayhead } from '../audio/useEngine';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { drawWaveform, fittingGain, type Drawable } from '../trace/waveform';
import { barStride } from './line/drawLine';
import { useBenchModel } from './useBenchModel';

/** Less silence than this at an end is not marked, seconds. */
const SEEN_SILENCE = 0.3;

const NO_PINS: readonly Pin[] = [];

/** The whole file with the visible stretch framed; pointing moves the frame. */
export function Overview({ audio }: { audio: Drawable }) {
  const { bench, looping, view } = useBenchModel();
  const { grid } = bench;
  const pins = bench.shown?.pins ?? NO_PINS;
  const loop = looping.bounds;
  const inks = useInks();
  const head = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const gain = useMemo(() => fittingGain(audio.peaks), [audio]);
  const { durationSeconds } = audio;
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([0, durationSeconds], [0, width]);
      context.fillStyle = inks.paper;
      context.fillRect(0, 0, width, height);
      if (loop) {
        context.fillStyle = inks['wash-ink'];
        context.fillRect(x(loop.start), 0, x(loop.end) - x(loop.start), height);
      }
      drawWaveform(
        context,
        audio,
        { from: 0, to: durationSeconds },
        { x: 0, y: 3, width, height: height - 6 },
        inks['trace-soft'],
        gain,
      );
      context.save();
      context.beginPath();
      context.rect(x(view.from), 0, x(view.to) - x(view.from), height);
      context.clip();
      drawWaveform(
        context,
        audio,
        { from: 0, to: durationSeconds },
        { x: 0, y: 3, width, height: height - 6 },
        inks.trace,
        gain,
      );
      context.restore();
      context.strokeStyle = inks.ink;
      context.strokeRect(
        Math.max(0.5, x(view.from) + 0.5),
        0.5,
        Math.max(2, Math.min(width - 1, x(view.to)) - Math.max(0, x(view.from)) - 1),
        height - 1,
      );
    },
    [audio, loop, gain, inks, durationSeconds, view.from, view.to],
  );
  const { soundFrom, soundTo, fadeFrom: fade } = useMemo(() => findEdges(audio.peaks), [audio]);
  // Apart from the waveform, which need not be drawn again while a grid is pulled.
  const drawMarks = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([0, durationSeconds], [0, width]);
      context.fillStyle = inks['rule-strong'];
      context.globalAlpha = 0.35;
      if (soundFrom > SEEN_SILENCE) context.fillRect(0, 0, x(soundFrom), height);
      if (durationSeconds - soundTo > SEEN_SILENCE)
        context.fillRect(x(soundTo), 0, width - x(soundTo), height);
      context.globalAlpha = 1;
      if (fade !== null) {
        context.strokeStyle = inks.look;
        context.beginPath();
        context.moveTo(x(fade), 2);
        context.lineTo(x(soundTo), height / 2);
        context.lineTo(x(fade), height - 2);
        context.stroke();
      }
      if (grid) {
        const size = feltBeatsPerBar(grid.meter);
        const stride = barStride(grid, x(1) - x(0));
        context.fillStyle = inks['ink-soft'];
        for (let bar = 1; ; bar += stride) {
          const px = x(beatTime(grid, (bar - 1) * size));
          if (px > width) break;
          context.fillRect(Math.round(px), height - 4, 1, 4);
        }
        context.fillStyle = inks.one;
        context.fillRect(x(grid.one) - 1, 0, 2.5, height);
      }
      context.fillStyle = inks.look;
      for (const { time } of pins) context.fillRect(Math.round(x(time)) - 1, 0, 3, 7);
    },
    [grid, pins, inks, durationSeconds, soundFrom, soundTo, fade],
  );
  usePlayhead((time) => {
    if (head.current && box.current)
      head.current.style.transform = `translateX(${(time / durationSeconds) * box.current.clientWidth}px)`;
  });
  const point = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === 'pointermove' && event.buttons !== 1) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const time = ((event.clientX - rect.left) / rect.width) * durationSeconds;
    const half = (view.to - view.from) / 2;
    view.show(time - half, time + half);
  };
  return (
    <div
      ref={box}
      className="relative h-12 shrink-0 overflow-hidden border-b border-rule-strong"
      role="img"
      aria-label={`Whole file, ${durationSeconds.toFixed(2)} seconds`}
      onPointerDown={point}
      onPointerMove={point}
    >
      <Canvas draw={draw} />
      <div className="pointer-events-none absolute inset-0">
        <Canvas draw={drawMarks} />
      </div>
      {fade !== null && (
        <span className="pointer-events-none absolute right-1 bottom-0 text-tiny text-look">fades out</span>
      )}
      <div ref={head} className="pointer-events-none absolute inset-y-0 left-0 w-px bg-ink" aria-hidden />
    </div>
  );
}
