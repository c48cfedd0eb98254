'use client';
import { quantile } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import clsx from 'clsx';
import { useCallback, useMemo } from 'react';
import { deviations, driftFigures, judgeGrid, type Deviation } from '@/core/rhythm/drift';
import { gridWords } from '@/words/grid';
import { barsUntil, type Grid } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';
import { signedText } from '@/words/figures';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { useBenchModel } from './useBenchModel';

const AS_MADE = 'exact, as rendered; the hits keep their played timing';

/** Hit minus grid in milliseconds along the file: level and on zero means that the click fits. */
export function DriftStrip() {
  const { bench, onsets, attackMs, durationSeconds, view, isAsMade } = useBenchModel();
  const { grid } = bench;
  const found = useMemo(
    () => (grid ? deviations(onsets, grid, durationSeconds) : []),
    [grid, onsets, durationSeconds],
  );
  const figures = useMemo(() => (grid ? driftFigures(found, grid) : null), [found, grid]);
  const bars = grid ? barsUntil(grid, durationSeconds) : 0;
  const verdict = figures && judgeGrid(figures, bars, attackMs);
  return (
    <div className="flex h-32 shrink-0 flex-col border-t border-rule-strong">
      <div className="flex h-7 items-center gap-4 px-2 text-small">
        <h2 className="font-semibold">Drift</h2>
        {verdict ? (
          <span
            role="status"
            data-testid="grid-verdict"
            className={clsx(
              'px-1.5',
              verdict === 'fits' || isAsMade
                ? 'bg-wash-good text-good'
                : verdict === 'unknown'
                  ? 'text-ink-soft'
                  : 'bg-wash-look text-look',
            )}
          >
            {isAsMade ? AS_MADE : gridWords(verdict, figures)}
          </span>
        ) : (
          <span className="text-ink-soft">No grid yet.</span>
        )}
        {figures && figures.medianMs !== null && (
          <span className="figures ml-auto text-ink-soft">
            {figures.hits} hits · median {signedText(figures.medianMs, 1, 'ms')} · spread{' '}
            {figures.spreadMs!.toFixed(1)} ms · slope {signedText(figures.slopeMsPerBar!, 2, 'ms/bar')}
          </span>
        )}
      </div>
      <div
        className="relative min-h-0 flex-1"
        role="img"
        aria-label={verdict ? `Drift trace. ${gridWords(verdict, figures)}` : 'Drift trace, empty'}
        onClick={(event) => {
          const rect = event.currentTarget.getBoundingClientRect();
          engine.seek(view.from + ((event.clientX - rect.left) / rect.width) * (view.to - view.from));
        }}
      >
        {grid && (
          <DriftTrace
            grid={grid}
            found={found}
            durationSeconds={durationSeconds}
            from={view.from}
            to={view.to}
          />
        )}
      </div>
    </div>
  );
}

interface TraceProps {
  grid: Grid;
  found: readonly Deviation[];
  durationSeconds: number;
  from: number;
  to: number;
}

/** The deviations between two times, with their robust line. */
export function DriftTrace({ grid, found, durationSeconds, from, to }: TraceProps) {
  const inks = useInks();
  const figures = useMemo(() => driftFigures(found, grid), [found, grid]);
  const reach = Math.max(
    20,
    Math.min(
      60,
      (quantile(
        found.map((d) => Math.abs(d.deviationMs)),
        0.95,
      ) ?? 0) * 1.2,
    ),
  );

  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([from, to], [0, width]);
      const y = scaleLinear([reach, -reach], [6, height - 6]);
      context.fillStyle = inks.sheet;
      context.fillRect(0, 0, width, height);
      context.font = '10px "Spline Sans Mono Variable", monospace';
      context.textBaseline = 'middle';
      for (const value of y.ticks(4)) {
        context.fillStyle = value === 0 ? inks['rule-strong'] : inks.rule;
        context.fillRect(0, Math.round(y(value)), width, 1);
      }
      for (const { time, deviationMs, strength } of found) {
        if (time < from || time > to) continue;
        context.globalAlpha = 0.35 + 0.65 * Math.min(1, strength / 8);
        context.fillStyle = Math.abs(deviationMs) > 20 ? inks.look : inks.trace;
        context.beginPath();
        context.arc(x(time), y(Math.max(-reach, Math.min(reach, deviationMs))), 2.6, 0, 2 * Math.PI);
        context.fill();
      }
      context.globalAlpha = 1;
      if (figures && figures.medianMs !== null && figures.slopeMsPerBar !== null) {
        const perSecond = (figures.slopeMsPerBar * barsUntil(grid, grid.one + 1000)) / 1000;
        const middle = durationSeconds / 2;
        context.strokeStyle = inks.one;
        context.lineWidth = 1.5;
        context.beginPath();
        for (const [i, time] of [from, to].entries()) {
          const value = figures.medianMs + perSecond * (time - middle);
          if (i === 0) context.moveTo(x(time), y(value));
          else context.lineTo(x(time), y(value));
        }
        context.stroke();
      }
      // Labels last, each on its own piece of paper, so that hits at the left edge do not hide them.
      for (const value of y.ticks(4)) {
        if (y(value) < 7 || y(value) > height - 7) continue;
        const label = value === 0 ? '0 ms' : signedText(value, 0, 'ms');
        context.fillStyle = inks.sheet;
        context.fillRect(width - 50, y(value) - 6, 50, 12);
        context.fillStyle = inks['ink-soft'];
        context.fillText(label, width - 46, y(value) + 0.5);
      }
    },
    [found, figures, grid, inks, reach, durationSeconds, from, to],
  );

  return <Canvas draw={draw} />;
}
