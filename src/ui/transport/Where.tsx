'use client';
import { useRef } from 'react';
import { beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { usePlayhead } from '../audio/useEngine';

/** Bar, beat and time of the playhead, without rendering again for every frame. */
export function Where({ grid }: { grid: Grid | null }) {
  const bar = useRef<HTMLDivElement>(null);
  const seconds = useRef<HTMLDivElement>(null);
  usePlayhead((time) => {
    if (seconds.current) seconds.current.textContent = `${time.toFixed(3)} s`;
    if (bar.current) bar.current.textContent = grid ? barAndBeat(grid, time) : '–';
  });
  return (
    <>
      <div ref={bar} className="figures text-xl font-semibold" aria-label="Bar and beat" />
      <div ref={seconds} className="figures text-small text-ink-soft" aria-label="Time" />
    </>
  );
}

/** "7 · 2": the second beat of the seventh bar. */
function barAndBeat(grid: Grid, time: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const position = beatPosition(grid, time) + 1e-6;
  const bar = Math.floor(position / size);
  const beat = Math.floor(position - bar * size) + 1;
  return `${bar >= 0 ? bar + 1 : `−${-bar}`} · ${beat}`;
}
