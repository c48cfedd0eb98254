'use client';
import clsx from 'clsx';
import { scaleLinear } from 'd3-scale';
import { useCallback, useMemo } from 'react';
import type { SeamFigures } from '@/core/signal/seam';
import { peakBuilder, type PeakPyramid } from '@/core/signal/peaks';
import { Button } from '../../kit/Button';
import { CRACKS } from '../seam/seamWords';
import { signedText } from '@/words/figures';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { drawSeam } from '../seam/drawSeam';

/** The turn of what would be made. */
export interface Turn {
  channels: readonly Float32Array[];
  sampleRate: number;
  figures: SeamFigures;
  words: string;
  bad: boolean;
}

/** Seconds to each side of the turn. */
const SECONDS = 0.02;

/** So near the samples themselves are drawn: extremes are not asked for. */
function noPeaks(sampleRate: number): PeakPyramid {
  const builder = peakBuilder(sampleRate);
  builder.push([new Float32Array(64)]);
  return builder.finish();
}

/** Where what would be made turns from its end to its beginning, drawn and in figures. */
export function CutSeam({
  turn,
  without,
  onCrossfade,
}: {
  turn: Turn | null;
  /** Why none is shown. */
  without: string;
  /** Takes a crack away; null where that is done already, or cannot be. */
  onCrossfade: (() => void) | null;
}) {
  const inks = useInks();
  const drawable = useMemo(
    () =>
      turn && {
        channels: turn.channels,
        sampleRate: turn.sampleRate,
        durationSeconds: turn.channels[0].length / turn.sampleRate,
        peaks: noPeaks(turn.sampleRate),
      },
    [turn],
  );
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      if (!drawable) return;
      const x = scaleLinear([-SECONDS, SECONDS], [0, width]);
      drawSeam(context, x, height, inks, drawable, { start: 0, end: drawable.durationSeconds });
    },
    [drawable, inks],
  );
  // Its place is kept where it is not known yet, or does not turn: the picture above stays where it is.
  return (
    <section
      aria-label="Loop point"
      className="flex h-24 shrink-0 border-b border-rule"
      data-testid="cut-seam"
    >
      <div className="w-44 shrink-0 border-r border-rule p-2 text-tiny">
        {turn ? (
          <>
            <span
              role="status"
              className={clsx('text-small', turn.bad ? 'bg-wash-look text-look' : 'bg-wash-good text-good')}
            >
              {turn.words}
            </span>
            <p className="figures mt-1 text-ink-soft">
              step {(100 * Math.abs(turn.figures.step)).toFixed(2)} %, {turn.figures.stepRatio.toFixed(1)} ×
              usual
              <br />
              level {signedText(turn.figures.levelDb, 1, 'dB')}
            </p>
          </>
        ) : (
          <span className="text-small text-ink-soft">{without}</span>
        )}
      </div>
      <div
        className="relative min-w-0 flex-1"
        role="img"
        aria-label={`End and beginning, 20 milliseconds to each side. ${turn?.words ?? ''}`}
      >
        {turn && <Canvas draw={draw} />}
        {turn && turn.figures.stepRatio > CRACKS && onCrossfade && (
          <Button className="absolute top-1 left-1 h-6 bg-sheet px-1.5" onClick={onCrossfade}>
            Crossfade 10 ms
          </Button>
        )}
      </div>
    </section>
  );
}
