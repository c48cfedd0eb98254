'use client';
import { scaleLinear } from 'd3-scale';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { clearHits } from '@/core/rhythm/clearHits';
import { hitsOffGrid } from '@/core/rhythm/offGrid';
import { beatPosition, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Pin, Pinned } from '@/core/rhythm/pins';
import { engine } from '../../audio/engine';
import { usePlayhead } from '../../audio/useEngine';
import { bpmText, signedText, timeText } from '@/words/figures';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import type { RollNote } from '../../trace/roll';
import { fittingGain, type Drawable } from '../../trace/waveform';
import { barStride, drawLine } from './drawLine';
import { beatPinnedTo, type GridMove } from '../gridMoves';
import { overridden, snapped } from '../snapping';
import { useBenchModel } from '../useBenchModel';

interface Props {
  audio: Drawable;
  /** The notes of a performance; null for anything else. */
  notes: readonly RollNote[] | null;
}

const NO_PINS: readonly Pin[] = [];

/** How near the pointer must be to a line to take hold of it, and to a hit to snap to it, pixels. */
const GRIP = 6;
const REACH = 10;

interface Drag {
  kind: 'beat' | 'pan' | 'stretch';
  /** The beat whose line is held. */
  beat: number;
  startX: number;
  startTime: number;
  settled: Pinned | null;
  view: { from: number; to: number };
  moved: boolean;
  move: GridMove | null;
}

/** The waveform with the grid over it; bar lines are pulled, the rest is panned, zoomed and pointed at. */
export function LineView(props: Props) {
  const { audio, notes } = props;
  const {
    bench,
    onsets,
    looping,
    view,
    snap,
    settling,
    selected: stretch,
    select: onStretch,
  } = useBenchModel();
  const { grid, pinned: settled, preview: onPreview } = bench;
  const pins = bench.shown?.pins ?? NO_PINS;
  const loop = looping.bounds;
  const onSettle = settling.settle;
  const inks = useInks();
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const [held, setHeld] = useState<{ beat: number; x: number; text: string } | null>(null);
  const gain = useMemo(() => fittingGain(audio.peaks), [audio]);

  // Of the settled grid: while one is dragged the marks would only flicker.
  const late = useMemo(
    () => (settled ? hitsOffGrid(clearHits(onsets), settled.grid) : []),
    [settled, onsets],
  );
  const size = grid ? feltBeatsPerBar(grid.meter) : 1;
  const heldBar = held && held.beat % size === 0 ? held.beat / size + 1 : null;
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([view.from, view.to], [0, width]);
      drawLine(context, x, height, inks, {
        ...{ audio, grid, onsets, late, loop, gain, heldBar, pins, stretch, notes },
      });
    },
    [audio, grid, onsets, late, loop, gain, heldBar, pins, stretch, notes, inks, view.from, view.to],
  );

  usePlayhead((time, playing) => {
    if (playing && !drag.current) view.reveal(Math.max(0, Math.min(time, audio.durationSeconds)));
    const width = canvas.current?.clientWidth ?? 0;
    if (!head.current) return;
    const px = ((time - view.from) / (view.to - view.from)) * width;
    head.current.style.transform = `translateX(${px}px)`;
    head.current.style.visibility = px >= 0 && px <= width ? 'visible' : 'hidden';
  });

  const scaleNow = () => scaleLinear([view.from, view.to], [0, canvas.current!.clientWidth]);

  /** The beat whose drawn line is under the pointer, or null; single beats only where they stand apart. */
  const beatUnder = (px: number): number | null => {
    if (!grid) return null;
    const x = scaleNow();
    const pixelsPerBeat = x(60 / grid.tempoBpm) - x(0);
    const apart = pixelsPerBeat > 4 * GRIP;
    const stride = apart ? 1 : barStride(grid, x(1) - x(0)) * size;
    const beat = Math.round(beatPosition(grid, x.invert(px)) / stride) * stride;
    return (apart || beat >= 0) && Math.abs(x(beatTime(grid, beat)) - px) <= GRIP ? beat : null;
  };

  const placed = (time: number, event: { altKey: boolean; shiftKey: boolean }, fine: boolean): number => {
    const reach = (REACH * (view.to - view.from)) / canvas.current!.clientWidth;
    return snapped(time, fine ? 'nothing' : overridden(snap, event.altKey), reach, onsets, audio);
  };

  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const px = event.nativeEvent.offsetX;
    // With Shift a stretch begins, also on a line; pressed later, it makes a pull fine.
    const beat = event.shiftKey ? null : beatUnder(px);
    drag.current = {
      kind: beat !== null ? 'beat' : event.shiftKey ? 'stretch' : 'pan',
      beat: beat ?? 0,
      startX: px,
      startTime: beat === null ? placed(scaleNow().invert(px), event, false) : beatTime(grid!, beat),
      settled,
      view: { from: view.from, to: view.to },
      moved: false,
      move: null,
    };
  };

  const nameOf = (beat: number) =>
    beat === 0
      ? 'the one'
      : beat % size === 0
        ? `bar ${beat / size + 1}`
        : `bar ${Math.floor(beat / size) + 1}, beat ${(((beat % size) + size) % size) + 1}`;

  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const px = event.nativeEvent.offsetX;
    const now = drag.current;
    if (!now) {
      const beat = beatUnder(px);
      event.currentTarget.style.cursor = beat === null ? 'crosshair' : 'ew-resize';
      if (beat === null) setHeld(null);
      else setHeld({ beat, x: px, text: `${nameOf(beat)} at ${timeText(beatTime(grid!, beat))}` });
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
    if (now.kind === 'stretch') {
      const there = placed(scaleNow().invert(px), event, false);
      onStretch({ from: Math.min(now.startTime, there), to: Math.max(now.startTime, there) });
      return;
    }
    const fine = event.shiftKey;
    const time = placed(now.startTime + (px - now.startX) * secondsPerPixel * (fine ? 0.1 : 1), event, fine);
    try {
      now.move = beatPinnedTo(now.settled!, now.beat, time);
    } catch {
      return;
    }
    onPreview(now.move);
    const by = signedText(1000 * (time - now.startTime), 1, 'ms');
    const what =
      now.beat === 0
        ? `the one ${by}, ${timeText(time)}`
        : `${nameOf(now.beat)} ${by}, ${bpmText(now.move.grid.tempoBpm)} BPM`;
    setHeld({ beat: now.beat, x: px, text: what });
  };

  const up = (event: PointerEvent<HTMLCanvasElement>) => {
    const now = drag.current;
    drag.current = null;
    if (!now) return;
    if (now.kind === 'beat' && now.move) onSettle(now.move);
    else if (!now.moved) {
      if (now.kind === 'stretch') onStretch(null);
      engine.seek(scaleNow().invert(event.nativeEvent.offsetX));
    }
  };

  const cancel = () => {
    if (drag.current?.kind === 'beat') onPreview(null);
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
