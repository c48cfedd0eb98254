'use client';
import { useCallback } from 'react';
import type { Recorded } from '../../audio/recorder';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { drawRoll } from '../../trace/roll';

/** The longest that is seen at once, seconds. */
const SEEN = 12;

/** The notes that were played, the last seconds of them. */
export function PlayedRoll({ played }: { played: Recorded }) {
  const inks = useInks();
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const to = Math.max(SEEN, played.seconds);
      drawRoll(context, { from: to - SEEN, to }, { x: 0, y: 0, width, height }, played.notes, inks);
    },
    [played, inks],
  );
  return (
    <div className="relative size-full" role="img" aria-label={`${played.notes.length} notes`}>
      <Canvas draw={draw} />
    </div>
  );
}
