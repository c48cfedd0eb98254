'use client';
import { scaleLinear } from 'd3-scale';
import { useCallback, useMemo, useRef, useState, type PointerEvent } from 'react';
import { beatPosition, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { usePlayhead } from '../../audio/useEngine';
import { signedText, timeText } from '@/words/figures';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { drawWaveform, fittingGain } from '../../trace/waveform';
import { drawCut, FOOT } from './drawCut';
import { useBenchModel } from '../useBenchModel';
import { SAME_HIT } from './useLateHits';

/** How near the pointer must be to take hold, pixels. */
const GRIP = 7;

/** What is seen to each side of a hit in hand, seconds. */
const CLOSE = 0.4;

/** How near to its place in the grid a hit that is dragged goes there, pixels; with Alt it does not. */
const SNAP = 5;

/** Seen beside the stretch, as a share of it. */
const MARGIN = 0.18;

type Hold =
  | { kind: 'edge'; edge: 'from' | 'to' }
  | { kind: 'bars'; beat: number }
  | { kind: 'hit'; at: number; ms: number; startX: number };

/** The stretch in the file: its edges are pulled along the bars, its hits from their places; drawn over it again, others are chosen. */
export function CutPicture() {
  const { bench, cut, lateHits } = useBenchModel();
  const { inHand } = lateHits;
  const { renderPlan } = cut;
  const { audio, grid, entry } = bench;
  const inks = useInks();
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const hold = useRef<Hold | null>(null);
  const [message, setMessage] = useState<{ x: number; text: string } | null>(null);
  const { draft, bounds, change } = cut;
  const duration = entry.summary.durationSeconds ?? 1;
  const [pulled, setPulled] = useState<{ from: number; to: number } | null>(null);
  const view = useMemo(() => {
    if (pulled) return pulled;
    // Close enough to see a few milliseconds.
    if (inHand) return { from: inHand.time - CLOSE, to: inHand.time + CLOSE };
    if (!bounds) return { from: 0, to: duration };
    const length = bounds.end - bounds.start;
    const tail = draft.region && draft.region.tail !== 'cut' ? draft.region.tailSeconds : 0;
    return {
      from: Math.max(-0.02 * length, bounds.start - MARGIN * length),
      to: Math.min(duration + 0.02 * length, bounds.end + Math.max(tail * 1.1, MARGIN * length)),
    };
  }, [bounds, duration, draft.region, pulled, inHand]);
  const gain = useMemo(() => (audio ? fittingGain(audio.peaks) : 1), [audio]);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([view.from, view.to], [0, width]);
      drawCut(context, x, height, inks, {
        ...{ bounds, grid, renderPlan, region: draft.region, late: lateHits.all, inHand },
        wave: (ink, from, to) =>
          audio &&
          drawWaveform(
            context,
            audio,
            { from, to },
            { x: x(from), y: 20, width: Math.max(1, x(to) - x(from)), height: height - 20 - FOOT },
            ink,
            gain,
          ),
      });
    },
    [view, inks, bounds, grid, renderPlan, draft.region, lateHits.all, inHand, audio, gain],
  );
  usePlayhead((time) => {
    const width = canvas.current?.clientWidth ?? 0;
    if (!head.current) return;
    const px = ((time - view.from) / (view.to - view.from)) * width;
    head.current.style.transform = `translateX(${px}px)`;
    head.current.style.visibility = px >= 0 && px <= width ? 'visible' : 'hidden';
  });

  const scale = () => scaleLinear([view.from, view.to], [0, canvas.current!.clientWidth]);
  const hitUnder = (px: number, py: number): { at: number; ms: number } | null => {
    if (!renderPlan || py < (canvas.current?.clientHeight ?? 0) - FOOT) return null;
    const x = scale();
    const first = renderPlan.first / renderPlan.rate;
    const near = renderPlan.moved.find(({ at }) => Math.abs(x(first + at) - px) <= GRIP);
    if (!near) return null;
    const at = first + near.at;
    return { at, ms: draft.hits.moves.find((move) => Math.abs(move.at - at) < SAME_HIT)?.ms ?? 0 };
  };
  const edgeUnder = (px: number): 'from' | 'to' | null => {
    if (!bounds) return null;
    const x = scale();
    if (Math.abs(x(bounds.start) - px) <= GRIP) return 'from';
    return Math.abs(x(bounds.end) - px) <= GRIP ? 'to' : null;
  };
  /** The bar line that is nearest; with Shift the nearest sixteenth. */
  const beatAt = (px: number, isFine: boolean) => {
    const beat = beatPosition(grid!, scale().invert(px));
    const size = isFine ? 0.25 : feltBeatsPerBar(grid!.meter);
    return Math.round(beat / size) * size;
  };
  const choose = (from: number, to: number) => {
    if (!draft.region || to - from < 0.2) return;
    change({ region: { ...draft.region, from, to }, time: { ...draft.time, exactBeats: null } });
  };
  /** Onto its place in the grid, where it comes near. */
  const snappedMs = (at: number, ms: number) => {
    const off = lateHits.all.find(({ time }) => Math.abs(time - at) < SAME_HIT);
    const reach = 1000 * (scale().invert(SNAP) - scale().invert(0));
    return off && Math.abs(ms + off.ms) < reach ? -off.ms : ms;
  };
  const moveHit = (at: number, ms: number) => {
    const others = draft.hits.moves.filter((move) => Math.abs(move.at - at) >= SAME_HIT);
    const moves = Math.abs(ms) < 0.05 ? others : [...others, { at, ms }].sort((a, b) => a.at - b.at);
    change({ hits: { ...draft.hits, moves } });
  };

  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.button !== 0 || !grid) return;
    const { offsetX, offsetY } = event.nativeEvent;
    const hit = hitUnder(offsetX, offsetY);
    const edge = edgeUnder(offsetX);
    event.currentTarget.setPointerCapture(event.pointerId);
    setPulled(view);
    hold.current = hit
      ? { kind: 'hit', ...hit, startX: offsetX }
      : edge
        ? { kind: 'edge', edge }
        : { kind: 'bars', beat: beatAt(offsetX, event.shiftKey) };
  };
  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const { offsetX, offsetY } = event.nativeEvent;
    const now = hold.current;
    if (!now) {
      const hit = hitUnder(offsetX, offsetY);
      event.currentTarget.style.cursor = hit || edgeUnder(offsetX) ? 'ew-resize' : 'crosshair';
      setMessage(
        hit && {
          x: offsetX,
          text: `hit at ${timeText(hit.at, 3)}${hit.ms ? `, moved ${signedText(hit.ms, 1, 'ms')}` : ''} · drag: move · double-click: reset`,
        },
      );
      return;
    }
    if (now.kind === 'hit') {
      const seconds = scale().invert(offsetX) - scale().invert(now.startX);
      const free = now.ms + 1000 * seconds * (event.shiftKey ? 0.1 : 1);
      const ms = Math.max(-500, Math.min(500, event.altKey ? free : snappedMs(now.at, free)));
      moveHit(now.at, Math.round(ms * 10) / 10);
      setMessage({ x: offsetX, text: `hit at ${timeText(now.at, 3)}, moved ${signedText(ms, 1, 'ms')}` });
      return;
    }
    const beat = beatAt(offsetX, event.shiftKey);
    const { region } = draft;
    if (!region) return;
    if (now.kind === 'edge')
      choose(now.edge === 'from' ? beat : region.from, now.edge === 'to' ? beat : region.to);
    else if (beat !== now.beat) choose(Math.min(beat, now.beat), Math.max(beat, now.beat));
    setMessage({ x: offsetX, text: `${timeText(beatTime(grid!, beat), 3)}` });
  };
  const up = () => {
    hold.current = null;
    setPulled(null);
    setMessage(null);
  };
  const double = (event: React.MouseEvent<HTMLCanvasElement>) => {
    const hit = hitUnder(event.nativeEvent.offsetX, event.nativeEvent.offsetY);
    if (hit) moveHit(hit.at, 0);
  };
  const words = bounds ? `from ${timeText(bounds.start, 3)} to ${timeText(bounds.end, 3)}` : 'whole file';
  return (
    <div className="relative min-h-16 flex-1 overflow-hidden bg-paper" data-testid="cut-picture">
      <Canvas
        draw={draw}
        canvasRef={canvas}
        role="img"
        aria-label={`Range to cut: ${words}`}
        className="touch-none"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onDoubleClick={double}
      />
      <div
        ref={head}
        className="pointer-events-none invisible absolute inset-y-0 left-0 w-px bg-ink"
        aria-hidden
      />
      {message && (
        <div
          className="figures pointer-events-none absolute bottom-7 border border-ink bg-sheet px-1.5 py-0.5 text-tiny whitespace-nowrap"
          style={message.x > 380 ? { right: `calc(100% - ${message.x - 8}px)` } : { left: message.x + 10 }}
        >
          {message.text}
        </div>
      )}
    </div>
  );
}
