'use client';
import { memo, useCallback, useRef, type PointerEvent } from 'react';
import type { LaneScore } from '@/library/blend/parts';
import { keyLabel, type Key } from '@/core/harmony/keyNames';
import type { Score } from '@/library/blend/score';
import { beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Traces } from '@/core/traces/traces';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { drawStaff, type BarsView } from './drawStaff';
import { penOf } from './pens';

interface Props {
  one: LaneScore;
  score: Score;
  traces: Traces | undefined;
  view: BarsView;
  /** Where it goes to another key. */
  changes: readonly { bar: number; key: Key }[];
  onSelect: () => void;
  /** Plays from a moment, seconds from bar 1. */
  onPlay: (time: number) => void;
  /** Pulled by so many beats; `isDone`: let go. */
  onPull: (beats: number, isDone: boolean) => void;
}

/** So far a press has to move before it pulls, pixels. */
const PULLS_FROM = 5;

/** A lane's trace. Pressed it plays from there; pulled it begins at another beat. */
export const LaneStaff = memo(function LaneStaff({
  one,
  score,
  traces,
  view,
  changes,
  onSelect,
  onPlay,
  onPull,
}: Props) {
  const inks = useInks();
  const pulling = useRef<{ x: number; beats: number; isMoved: boolean } | null>(null);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) =>
      drawStaff(context, width, height, { one, score, traces, view, inks, pen: inks.pens[penOf(one.lane)] }),
    [one, score, traces, view, inks],
  );
  const size = feltBeatsPerBar(score.grid.meter);
  const begin = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    onSelect();
    pulling.current = { x: event.clientX, beats: 0, isMoved: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const move = (event: PointerEvent<HTMLElement>) => {
    const now = pulling.current;
    if (!now || one.lane.locked) return;
    const moved = event.clientX - now.x;
    if (Math.abs(moved) < PULLS_FROM && !now.isMoved) return;
    const beats = Math.round((moved / event.currentTarget.clientWidth) * view.bars * size);
    pulling.current = { ...now, beats, isMoved: true };
    if (beats !== now.beats) onPull(beats, false);
  };
  const end = (event: PointerEvent<HTMLElement>) => {
    const now = pulling.current;
    pulling.current = null;
    if (!now) return;
    if (now.isMoved) return onPull(now.beats, true);
    const box = event.currentTarget.getBoundingClientRect();
    const bar = view.from + ((event.clientX - box.left) / box.width) * view.bars;
    onPlay(beatTime(score.grid, Math.floor(bar * size)));
  };
  return (
    <div
      className="relative h-full min-w-0 flex-1 touch-none overflow-hidden bg-sheet"
      role="img"
      aria-label={`Trace of ${one.lane.name}`}
      onPointerDown={begin}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={() => {
        if (pulling.current?.isMoved) onPull(0, true);
        pulling.current = null;
      }}
    >
      <Canvas draw={draw} />
      {changes.map(({ bar, key }) => (
        <span
          key={bar}
          className="pointer-events-none absolute bottom-0 border-l border-current bg-sheet/80 px-1 text-tiny"
          style={{ left: `${((bar - 1 - view.from) / view.bars) * 100}%` }}
        >
          {keyLabel(key)}
        </span>
      ))}
    </div>
  );
});
