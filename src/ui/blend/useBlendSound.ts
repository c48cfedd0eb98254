'use client';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { Blend } from '@/contract/blend';
import type { Score } from '@/library/blend/score';
import { engine } from '../audio/engine';
import { rulerOf } from '../audio/rulerOf';
import { useEngine } from '../audio/useEngine';

/** What was not changed for so long is fitted before it is played, ms. */
const SETTLED_MS = 300;

export interface BlendSound {
  /** What the engine calls it. */
  id: string;
  playing: boolean;
  /** It was asked for and is not there yet. */
  waiting: boolean;
  play: (from?: number, countIn?: boolean) => void;
  toggle: () => void;
}

/** Lets a blend sound; whatever is changed is heard while it plays. */
export function useBlendSound(blendId: string, state: Blend, score: Score): BlendSound {
  const id = `blend ${blendId}`;
  const ruler = useMemo(() => rulerOf(id, state, score), [id, state, score]);
  const newest = useRef(ruler);
  const isMine = useEngine((now) => now.sampleId === id);
  const status = useEngine((now) => now.status);
  useEffect(() => {
    newest.current = ruler;
    if (engine.getState().sampleId === id && engine.getState().status === 'playing')
      void engine.ruler.change(ruler);
  }, [ruler, id]);
  // Who opens a blend or changes it is going to play it.
  useEffect(() => {
    const timer = setTimeout(() => engine.ruler.prepare(ruler), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [ruler]);
  // Whoever leaves the screen leaves its sound.
  useEffect(
    () => () => {
      engine.ruler.prepare(null);
      if (engine.getState().sampleId === id) engine.stop();
    },
    [id],
  );
  const play = useCallback((from?: number, countIn = true) => {
    const asked = newest.current;
    void engine.playRuler(asked, from, countIn).then(() => {
      // What was changed while it was still being fitted.
      if (newest.current !== asked) void engine.ruler.change(newest.current);
    });
  }, []);
  const toggle = useCallback(() => {
    const now = engine.getState();
    const sounds = now.sampleId === id && (now.status === 'playing' || now.status === 'loading');
    if (sounds) engine.stop();
    else play();
  }, [id, play]);
  const [playing, waiting] = [isMine && status === 'playing', isMine && status === 'loading'];
  return useMemo(() => ({ id, playing, waiting, play, toggle }), [id, playing, waiting, play, toggle]);
}
