'use client';
import * as d3 from 'd3';
import { Magnet } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { toast } from 'sonner';
import { barTime, beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { DecodedAudio } from '../audio/decodedAudio';
import { player } from '../audio/player';
import { usePlayhead } from '../audio/usePlayer';
import { Button } from '../pieces/Button';
import { bpmText, signedText, timeText } from '../pieces/figures';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { fittingGain } from '../trace/waveform';
import { barStride, drawLine } from './drawLine';
import { barPulledTo, oneMovedTo, type GridMove } from './gridMoves';
import type { View } from './useView';

interface Props {
  audio: DecodedAudio;
  grid: Grid | null;
  onsets: readonly { time: number; strength: number }[];
  loop: { start: number; end: number } | null;
  view: View;
  snap: boolean;
  onSnap: (snap: boolean) => void;
  onPreview: (grid: Grid | null) => void;
  onSettle: (move: GridMove) => void;
}

/** How near the pointer must be to a line to take hold of it, and to a hit to snap to it, pixels. */
const GRIP = 6;
const SNAP = 10;

interface Drag {
  kind: 'bar' | 'pan';
  bar: number;
  startX: number;
  startTime: number;
  grid: Grid | null;
  view: { from: number; to: number };
  moved: boolean;
  move: GridMove | null;
}

/** The waveform with the grid over it; bar lines are pulled, the rest is panned, zoomed and pointed at. */
export function LineView({ audio, grid, onsets, loop, view, snap, onSnap, onPreview, onSettle }: Props) {
  const inks = useInks();
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const [held, setHeld] = useState<{ bar: number; x: number; text: string } | null>(null);
  const gain = useMemo(() => fittingGain(audio.peaks), [audio]);

  const heldBar = held?.bar ?? null;
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = d3.scaleLinear([view.from, view.to], [0, width]);
      drawLine(context, x, height, inks, { audio, grid, onsets, loop, gain, heldBar });
    },
    [audio, grid, onsets, loop, gain, heldBar, inks, view.from, view.to],
  );

  usePlayhead((time, playing) => {
    if (playing && !drag.current) view.reveal(Math.max(0, Math.min(time, audio.durationSeconds)));
    const width = canvas.current?.clientWidth ?? 0;
    if (!head.current) return;
    const px = ((time - view.from) / (view.to - view.from)) * width;
    head.current.style.transform = `translateX(${px}px)`;
    head.current.style.visibility = px >= 0 && px <= width ? 'visible' : 'hidden';
  });

  const scaleNow = () => d3.scaleLinear([view.from, view.to], [0, canvas.current!.clientWidth]);

  /** The bar whose drawn line is under the pointer, or null. */
  const barUnder = (px: number): number | null => {
    if (!grid) return null;
    const x = scaleNow();
    const size = feltBeatsPerBar(grid.meter);
    const near = Math.round(beatPosition(grid, x.invert(px)) / size) + 1;
    const stride = barStride(grid, x(1) - x(0));
    const bar = Math.round((near - 1) / stride) * stride + 1;
    return bar >= 1 && Math.abs(x(barTime(grid, bar)) - px) <= GRIP ? bar : null;
  };

  const snapped = (time: number, free: boolean): number => {
    if (!snap || free) return time;
    const reach = (SNAP * (view.to - view.from)) / canvas.current!.clientWidth;
    const nearest = d3.least(onsets, (onset) => Math.abs(onset.time - time));
    return nearest && Math.abs(nearest.time - time) <= reach ? nearest.time : time;
  };

  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const px = event.nativeEvent.offsetX;
    const bar = barUnder(px);
    drag.current = {
      kind: bar === null ? 'pan' : 'bar',
      bar: bar ?? 0,
      startX: px,
      startTime: bar === null ? 0 : barTime(grid!, bar),
      grid,
      view: { from: view.from, to: view.to },
      moved: false,
      move: null,
    };
  };

  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const px = event.nativeEvent.offsetX;
    const now = drag.current;
    if (!now) {
      const bar = barUnder(px);
      event.currentTarget.style.cursor = bar === null ? 'crosshair' : 'ew-resize';
      if (bar === null) setHeld(null);
      else
        setHeld({
          bar,
          x: px,
          text: `${bar === 1 ? 'the one' : `bar ${bar}`} at ${timeText(barTime(grid!, bar))}`,
        });
      return;
    }
    if (Math.abs(px - now.startX) > 3) now.moved = true;
    if (!now.moved) return;
    const secondsPerPixel = (now.view.to - now.view.from) / event.currentTarget.clientWidth;
    if (now.kind === 'pan') {
      const shift = (now.startX - px) * secondsPerPixel;
      view.show(now.view.from + shift, now.view.to + shift);
      return;
    }
    const fine = event.shiftKey ? 0.1 : 1;
    const time = snapped(
      now.startTime + (px - now.startX) * secondsPerPixel * fine,
      event.altKey || event.shiftKey,
    );
    try {
      now.move = now.bar === 1 ? oneMovedTo(now.grid!, time) : barPulledTo(now.grid!, now.bar, time);
    } catch {
      return;
    }
    onPreview(now.move.grid);
    const by = signedText(1000 * (time - now.startTime), 1, 'ms');
    const what =
      now.bar === 1
        ? `the one ${by}, ${timeText(time)}`
        : `bar ${now.bar} ${by}, ${bpmText(now.move.grid.tempoBpm)} BPM`;
    setHeld({ bar: now.bar, x: px, text: what });
  };

  const up = (event: PointerEvent<HTMLCanvasElement>) => {
    const now = drag.current;
    drag.current = null;
    if (!now) return;
    if (now.kind === 'bar' && now.move) {
      onSettle(now.move);
      if (now.bar > 1) toast.dismiss();
    } else if (!now.moved) player.seek(scaleNow().invert(event.nativeEvent.offsetX));
  };

  const cancel = () => {
    if (drag.current?.kind === 'bar') onPreview(null);
    drag.current = null;
  };

  useEffect(() => {
    const element = canvas.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const seconds = view.to - view.from;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        view.pan(((event.deltaX || event.deltaY) / element.clientWidth) * seconds);
        return;
      }
      const about = view.from + (event.offsetX / element.clientWidth) * seconds;
      view.zoom(Math.exp(Math.max(-0.6, Math.min(0.6, event.deltaY * 0.002))), about);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [view]);

  return (
    <div className="relative min-h-0 flex-1 overflow-hidden" data-testid="line-view">
      <Canvas
        draw={draw}
        canvasRef={canvas}
        role="img"
        aria-label={
          grid
            ? `Waveform from ${view.from.toFixed(2)} to ${view.to.toFixed(2)} seconds, grid of ${bpmText(grid.tempoBpm)} BPM with the one at ${timeText(grid.one)}`
            : `Waveform from ${view.from.toFixed(2)} to ${view.to.toFixed(2)} seconds, no grid`
        }
        className="touch-none"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={cancel}
        onPointerLeave={() => !drag.current && setHeld(null)}
      />
      <Button
        className="absolute top-8 right-2 opacity-90"
        pressed={snap}
        title="Lines that are pulled snap to hits; hold Alt for not"
        onClick={() => onSnap(!snap)}
      >
        <Magnet className="size-3.5" aria-hidden /> {snap ? 'snaps to hits' : 'snaps to nothing'}
      </Button>
      <div
        ref={head}
        className="pointer-events-none invisible absolute inset-y-0 left-0 w-0.5 -translate-x-px bg-ink"
        aria-hidden
      />
      {held && (
        <div
          className="figures pointer-events-none absolute top-8 border border-ink bg-sheet px-1.5 py-0.5 text-tiny whitespace-nowrap"
          style={held.x > 560 ? { right: `calc(100% - ${held.x - 10}px)` } : { left: held.x + 10 }}
        >
          {held.text}
        </div>
      )}
    </div>
  );
}
