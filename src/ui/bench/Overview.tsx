'use client';
import * as d3 from 'd3';
import { useCallback, useMemo, useRef, type PointerEvent } from 'react';
import type { Grid } from '@/core/rhythm/grid';
import { usePlayhead } from '../audio/usePlayer';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { drawWaveform, fittingGain, type Drawable } from '../trace/waveform';
import type { View } from './useView';

interface Props {
  audio: Drawable;
  grid: Grid | null;
  loop: { start: number; end: number } | null;
  view: View;
}

/** The whole file with the visible stretch framed; pointing moves the frame. */
export function Overview({ audio, grid, loop, view }: Props) {
  const inks = useInks();
  const head = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const gain = useMemo(() => fittingGain(audio.peaks), [audio]);
  const { durationSeconds } = audio;
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = d3.scaleLinear([0, durationSeconds], [0, width]);
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
      {grid && (
        <div
          className="pointer-events-none absolute inset-y-0 w-[2.5px] -translate-x-px bg-one"
          style={{ left: `${(100 * grid.one) / durationSeconds}%` }}
          aria-hidden
        />
      )}
      <div ref={head} className="pointer-events-none absolute inset-y-0 left-0 w-px bg-ink" aria-hidden />
    </div>
  );
}
