'use client';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { deviations } from '@/core/rhythm/drift';
import { dragFold, foldRows } from '@/core/rhythm/fold';
import {
  averageTempo,
  barsUntil,
  barTime,
  beatPosition,
  beatTime,
  feltBeatsPerBar,
  steadyAt,
  type Grid,
} from '@/core/rhythm/grid';
import type { Pinned } from '@/core/rhythm/pins';
import { repeating } from '@/core/traces/repeating';
import type { Traces } from '@/core/traces/traces';
import { engine } from '../../audio/engine';
import { usePlayhead } from '../../audio/useEngine';
import { bpmText, signedText, timeText } from '@/words/figures';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { fittingGain } from '../../trace/waveform';
import { foldDragged } from '../gridMoves';
import { leanWords } from '../leanWords';
import { drawFold } from './drawFold';
import { caught, type Drag } from './foldDrag';
import { FoldTooltip } from './FoldTooltip';
import { beatOfX, foldScale, GUTTER, rowOfY, xOfBeat, yOfRow, type FoldScale } from './foldScale';
import { useBenchModel } from '../useBenchModel';

/** Bars that differ by less than this share are asked for what repeats alike. */
const SAME_SLOWNESS = 0.01;

interface Props {
  /** The settled grid with its pins: what a drag begins from. */
  settled: Pinned;
  /** The grid that is shown: the one being dragged, or the settled one. */
  grid: Grid;
  traces: Traces;
  /** Loops that were found, best first. */
  finds: readonly { bar: number; bars: number }[];
}

/** The file folded bar under bar; pulled from the top row it moves the one, from below it turns the tempo. */
export function FoldView(props: Props) {
  const { settled, grid, traces, finds } = props;
  const model = useBenchModel();
  const { bench, lean, isAsMade, onsets, snap, cut, settling, setTall: onTall, fold: settings } = model;
  const onSettle = settling.settle;
  const { preview, entry } = bench;
  const swing = entry.measurement?.swing ?? null;
  const chosen = cut.isTouched ? cut.draft.region : null;
  const onPreview = useCallback((next: Grid | null) => preview(next && { grid: next }), [preview]);
  const inks = useInks();
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const shown = useRef<FoldScale | null>(null);
  const drag = useRef<Drag | null>(null);
  const [scroll, setScroll] = useState(0);
  /** The row that drawing along the left edge began at. */
  const edge = useRef<number | null>(null);
  const [message, setMessage] = useState<{ x: number; y: number; text: string } | null>(null);
  const { durationSeconds } = traces;
  const gain = useMemo(() => fittingGain(traces.peaks), [traces]);
  const rows = useMemo(
    () => foldRows(grid, settings.rowBeats, durationSeconds),
    [grid, settings.rowBeats, durationSeconds],
  );
  const found = useMemo(() => deviations(onsets, grid, durationSeconds), [onsets, grid, durationSeconds]);

  const words = leanWords(grid, lean, durationSeconds, isAsMade);
  const isUpright = words.upright;
  const upright = useMemo(
    () =>
      // Over a moving grid the line of one tempo: how it bends is how the player did.
      grid.movingBeats
        ? steadyAt(grid, averageTempo(grid.movingBeats))
        : lean && !isUpright
          ? { ...steadyAt(grid, lean.uprightBpm), one: lean.uprightOne }
          : null,
    [lean, isUpright, grid],
  );

  // Known for tempi about as slow: a grid that is being pulled is drawn at once.
  const slowness = Math.round(Math.log(barTime(grid, 2) - barTime(grid, 1)) / SAME_SLOWNESS);
  const isRepeats = settings.drawing === 'repeats';
  const strength = useMemo(
    () => (isRepeats ? repeating(traces.strength, Math.exp(slowness * SAME_SLOWNESS)) : traces.strength),
    [isRepeats, traces.strength, slowness],
  );

  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const scale = foldScale(rows, { width, height }, settings.tall, scroll);
      shown.current = scale;
      drawFold(context, scale, inks, {
        grid,
        strength,
        peaks: traces.peaks,
        drawing: settings.drawing,
        bands: settings.bands,
        gain,
        deviations: found,
        swing,
        upright,
        chosen,
        finds,
      });
    },
    [rows, settings, scroll, inks, grid, strength, traces, gain, found, swing, upright, chosen, finds],
  );

  usePlayhead((time, playing) => {
    const scale = shown.current;
    if (!head.current || !scale) return;
    const beat = beatPosition(grid, time);
    const row = Math.floor(beat / scale.rows.rowBeats + 1e-9);
    const y = yOfRow(scale, row);
    const x = GUTTER + xOfBeat(scale, beat - row * scale.rows.rowBeats);
    head.current.style.transform = `translate(${x}px, ${y}px)`;
    head.current.style.height = `${Math.max(6, scale.rowHeight)}px`;
    head.current.style.visibility = rowOfY(scale, y + 0.5) === null ? 'hidden' : 'visible';
    if (playing && !drag.current) {
      if (y < 0 || y + scale.rowHeight > scale.height) setScroll(y + scale.scroll - scale.height / 3);
    }
  });

  /** The place in the music under a point, or null beside the rows. */
  const placeAt = (x: number, y: number): { row: number; beat: number } | null => {
    const scale = shown.current;
    const row = scale && rowOfY(scale, y);
    if (!scale || row === null || x < GUTTER || x > GUTTER + scale.width) return null;
    return { row, beat: row * scale.rows.rowBeats + beatOfX(scale, x - GUTTER) };
  };

  /** Rows become bars to be cut; the pickup above the first bar is none. */
  const chooseRows = (a: number, b: number) => {
    const size = feltBeatsPerBar(grid.meter);
    const [first, last] = [Math.max(0, Math.min(a, b)), Math.max(a, b)];
    if (last < 0) return;
    const from = Math.floor((first * settings.rowBeats) / size);
    const to = Math.ceil(((last + 1) * settings.rowBeats) / size);
    const most = barsUntil(grid, durationSeconds);
    if (from < most) cut.chooseBars(from + 1, Math.min(most, to) - from);
  };

  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.button !== 0 || !shown.current) return;
    const { offsetX, offsetY } = event.nativeEvent;
    if (offsetX < GUTTER) {
      edge.current = rowOfY(shown.current, offsetY);
      if (edge.current === null) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      return chooseRows(edge.current, edge.current);
    }
    const place = placeAt(offsetX, offsetY);
    if (!place) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = {
      startX: offsetX,
      startY: offsetY,
      beat: place.beat,
      from: settled,
      scale: shown.current,
      moved: false,
      grid: null,
    };
  };

  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const { offsetX, offsetY } = event.nativeEvent;
    const now = drag.current;
    if (edge.current !== null && shown.current) {
      const row = rowOfY(shown.current, offsetY);
      if (row !== null) chooseRows(edge.current, row);
      return;
    }
    if (!now && offsetX < GUTTER) {
      event.currentTarget.style.cursor = 'ns-resize';
      return setMessage({ x: offsetX, y: offsetY, text: 'drag here to select bars to cut' });
    }
    if (!now) {
      const place = placeAt(offsetX, offsetY);
      event.currentTarget.style.cursor = place ? 'ew-resize' : 'default';
      setMessage(
        place && {
          x: offsetX,
          y: offsetY,
          text:
            place.row <= 0
              ? `bar ${barText(grid, place.beat)}, ${timeText(beatTime(grid, place.beat), 2)} · drag: move the one`
              : `bar ${barText(grid, place.beat)}, ${timeText(beatTime(grid, place.beat), 2)} · drag: change the tempo`,
        },
      );
      return;
    }
    if (Math.abs(offsetX - now.startX) > 2) now.moved = true;
    if (!now.moved) return;
    const pixels = (offsetX - now.startX) * (event.shiftKey ? 0.1 : 1);
    const beats = beatOfX(now.scale, pixels) - beatOfX(now.scale, 0);
    try {
      const free = event.shiftKey || event.altKey !== (snap === 'nothing');
      now.grid = caught(dragFold(now.from.grid, now.scale.rows, now.beat, beats), now, free ? null : lean);
    } catch {
      return;
    }
    onPreview(now.grid);
    const oneBy = 1000 * (now.grid.one - now.from.grid.one);
    setMessage({
      x: offsetX,
      y: now.startY,
      text:
        now.grid.tempoBpm === now.from.grid.tempoBpm
          ? `the one ${signedText(oneBy, 1, 'ms')}, ${timeText(now.grid.one)}`
          : `${now.grid.tempoBpm.toFixed(3)} BPM, ${signedText(now.grid.tempoBpm - now.from.grid.tempoBpm, 3, 'BPM')}`,
    });
  };

  const up = (event: PointerEvent<HTMLCanvasElement>) => {
    const now = drag.current;
    drag.current = null;
    edge.current = null;
    if (!now) return;
    if (now.grid) onSettle(foldDragged(now.from, now.grid));
    else {
      const place = placeAt(event.nativeEvent.offsetX, event.nativeEvent.offsetY);
      if (place) engine.seek(Math.min(durationSeconds, beatTime(grid, place.beat)));
    }
  };

  useEffect(() => {
    const element = canvas.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const scale = shown.current;
      if (!scale) return;
      if (event.ctrlKey) {
        const fits = Math.min(scale.rowHeight, scale.height / (scale.rows.last - scale.rows.first + 1));
        const wanted = scale.rowHeight * Math.exp(-event.deltaY * 0.003);
        onTall(wanted <= fits * 1.02 ? null : wanted);
      } else setScroll(scale.scroll + event.deltaY);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [onTall]);

  return (
    <div className="relative min-h-0 flex-1 overflow-hidden bg-paper" data-testid="fold-view">
      <Canvas
        draw={draw}
        canvasRef={canvas}
        role="img"
        aria-label={`Fold of ${rows.last + 1} rows at ${bpmText(grid.tempoBpm)} BPM, the one at ${timeText(grid.one)}. ${words.text}`}
        className="touch-none"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => {
          onPreview(null);
          setMessage(null);
          drag.current = null;
          edge.current = null;
        }}
        onPointerLeave={() => !drag.current && setMessage(null)}
      />
      <div
        ref={head}
        className="pointer-events-none invisible absolute top-0 left-0 w-0.5 -translate-x-px bg-ink outline outline-1 outline-sheet"
        aria-hidden
      />
      {message && <FoldTooltip {...message} />}
    </div>
  );
}

function barText(grid: Grid, beat: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const bar = Math.floor(beat / size + 1e-9) + 1;
  return bar < 1 ? 'in the pickup' : String(bar);
}
