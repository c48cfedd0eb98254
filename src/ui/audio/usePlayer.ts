'use client';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import { player, type PlayerState } from './player';

/** The player's state; the component renders anew when it changes. */
export function usePlayer(): PlayerState {
  return useSyncExternalStore(player.subscribe, player.getState, player.getState);
}

/** Calls `draw` with the time that is heard, once a frame while playing and once after every change. */
export function usePlayhead(draw: (time: number, playing: boolean) => void) {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    let frame = 0;
    let live = true;
    const tick = () => {
      if (!live) return;
      const playing = player.getState().status === 'playing';
      latest.current(player.position(), playing);
      if (playing) frame = requestAnimationFrame(tick);
    };
    const wake = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(tick);
    };
    const stop = player.subscribe(wake);
    wake();
    return () => {
      live = false;
      stop();
      cancelAnimationFrame(frame);
    };
  }, []);
}
