'use client';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import { engine } from './engine';
import type { EngineState } from './engineState';

/**
 * A part of the engine's state; the component renders again when that part changes. `select` gives what is compared as it
 * is: a plain value, or something that stands in the state.
 */
export function useEngine<Part>(select: (state: EngineState) => Part): Part {
  const part = () => select(engine.getState());
  return useSyncExternalStore(engine.subscribe, part, part);
}

type Draw = (time: number, playing: boolean) => void;

/** What is drawn at the playhead: all of it in one frame. */
const draws = new Set<Draw>();
let frame = 0;
let stopListening: (() => void) | null = null;

function tick() {
  const playing = engine.getState().status === 'playing';
  const time = engine.position();
  for (const draw of draws) draw(time, playing);
  frame = playing ? requestAnimationFrame(tick) : 0;
}

function wake() {
  frame ||= requestAnimationFrame(tick);
}

/** Calls `draw` with the time that is heard, once a frame while playing and once after every change. */
export function usePlayhead(draw: Draw) {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
    // What is drawn may stand elsewhere now.
    wake();
  });
  useEffect(() => {
    const mine: Draw = (time, playing) => latest.current(time, playing);
    draws.add(mine);
    stopListening ??= engine.subscribe(wake);
    return () => {
      draws.delete(mine);
      if (draws.size > 0) return;
      stopListening?.();
      stopListening = null;
      cancelAnimationFrame(frame);
      frame = 0;
    };
  }, []);
}
