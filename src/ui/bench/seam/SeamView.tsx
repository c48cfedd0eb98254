'use client';
import clsx from 'clsx';
import { scaleLinear } from 'd3-scale';
import { useCallback, useMemo, useState } from 'react';
import { quietestShift, seamFigures, type SeamFigures } from '@/core/signal/seam';
import { type Bounds, loopBounds, type LoopValue } from '@/core/rhythm/loop';
import { barsUntil, barTime } from '@/core/rhythm/grid';
import type { DecodedAudio } from '../../audio/decodedAudio';
import { engine } from '../../audio/engine';
import { Button } from '../../kit/Button';
import { signedText, timeText } from '@/words/figures';
import { Stepper } from '../../kit/Stepper';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { drawSeam } from './drawSeam';
import { seamWords } from './seamWords';
import { useBenchModel } from '../useBenchModel';

/** Seconds to each side of the seam that are drawn, coarse to fine. */
const WIDTHS = [0.5, 0.1, 0.02, 0.004];

/** The loop's end and beginning joined at the middle: as it is, and as it would be at the quietest place nearby. */
export function SeamView() {
  const { bench, looping } = useBenchModel();
  const { grid, entry, audio, settle } = bench;
  const duration = entry.summary.durationSeconds ?? 0;
  const [width, setWidth] = useState(2);
  const settledLoop = entry.settled.loop;
  const whole = grid ? barsUntil(grid, duration) : 0;
  const loop: LoopValue = settledLoop ?? { bar: 1, bars: Math.max(1, whole), shiftSeconds: 0 };
  const bounds = grid ? loopBounds(grid, settledLoop, duration) : null;

  const found = useMemo(() => (audio && bounds ? judge(audio, bounds) : null), [audio, bounds]);
  if (!grid || !bounds)
    return (
      <p className="flex flex-1 items-center justify-center bg-sheet p-8 text-ink-soft">
        No whole bar of the grid fits into the file, so there is no seam. Set a tempo first.
      </p>
    );
  if (!audio || !found)
    return (
      <p className="flex flex-1 items-center justify-center bg-sheet p-8 text-ink-soft">Loading the audio…</p>
    );

  const change = (patch: Partial<LoopValue>) => {
    const next = { ...loop, shiftSeconds: 0, ...patch };
    const start = barTime(grid, next.bar);
    if (next.bars < 1 || barTime(grid, next.bar + next.bars) > duration + 0.05 || start < -0.05) return;
    settle({ loop: next }, `loop of ${next.bars} bars from bar ${next.bar}`);
  };
  const moved = { start: bounds.start + found.shift, end: bounds.end + found.shift };
  const hears = looping.looped?.kind === 'seam';
  return (
    <div className="flex min-h-0 flex-1 flex-col bg-sheet" data-testid="seam-view">
      <div className="flex min-h-9 shrink-0 flex-wrap items-center gap-x-2 gap-y-0.5 border-b border-rule px-2 text-small">
        <span>Loop from bar</span>
        <Stepper label="First bar" value={loop.bar} onStep={(by) => change({ bar: loop.bar + by })} />
        <span>of</span>
        <Stepper label="Bars" value={loop.bars} onStep={(by) => change({ bars: loop.bars + by })} />
        <span>bars</span>
        {settledLoop && (
          <Button small onClick={() => settle({ loop: null }, 'loop of all whole bars')}>
            All {whole}
          </Button>
        )}
        <span className="figures ml-2 text-ink-soft">
          {timeText(bounds.start)} – {timeText(bounds.end)}
        </span>
        <div className="ml-auto flex items-center gap-1">
          {WIDTHS.map((seconds, i) => (
            <Button key={seconds} small pressed={i === width} onClick={() => setWidth(i)}>
              <span className="figures">±{seconds * 1000} ms</span>
            </Button>
          ))}
          <Button
            small
            className="ml-2"
            pressed={hears}
            onClick={() => {
              if (hears) return looping.setLooped(null);
              looping.setLooped({ kind: 'seam' });
              void engine.play(bounds.end - 0.5, false);
            }}
          >
            Play the seam
          </Button>
        </div>
      </div>
      <Half
        title="Leave as is"
        audio={audio}
        bounds={bounds}
        seconds={WIDTHS[width]}
        figures={found.before}
        testId="seam-before"
      />
      <Half
        title={`Both ends ${signedText(1000 * found.shift, 2, 'ms')}`}
        audio={audio}
        bounds={moved}
        seconds={WIDTHS[width]}
        figures={found.after}
        testId="seam-after"
      >
        {Math.abs(found.shift) > 1e-6 ? (
          <Button
            small
            title="Moves both ends; the length stays the same"
            onClick={() =>
              settle(
                { loop: { ...loop, shiftSeconds: loop.shiftSeconds + found.shift } },
                `seam moved by ${signedText(1000 * found.shift, 2, 'ms')}`,
              )
            }
          >
            Move there
          </Button>
        ) : (
          <span className="text-small text-good">already at the quietest place nearby</span>
        )}
      </Half>
    </div>
  );
}

function judge(audio: DecodedAudio, bounds: Bounds) {
  const { channels, sampleRate } = audio;
  try {
    const shift = quietestShift(channels, sampleRate, bounds.start, bounds.end);
    return {
      shift,
      before: seamFigures(channels, sampleRate, bounds.start, bounds.end),
      after: seamFigures(channels, sampleRate, bounds.start + shift, bounds.end + shift),
    };
  } catch {
    return null;
  }
}

interface HalfProps {
  title: string;
  audio: DecodedAudio;
  bounds: Bounds;
  seconds: number;
  figures: SeamFigures;
  testId: string;
  children?: React.ReactNode;
}

/** One seam with its figures. */
function Half({ title, audio, bounds, seconds, figures, testId, children }: HalfProps) {
  const inks = useInks();
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const x = scaleLinear([-seconds, seconds], [0, width]);
      drawSeam(context, x, height, inks, audio, bounds);
    },
    [audio, bounds, seconds, inks],
  );
  const { words, bad } = seamWords(figures);
  return (
    <section
      className="flex min-h-0 flex-1 flex-col border-b border-rule"
      aria-label={title}
      data-testid={testId}
    >
      <div className="flex h-12 shrink-0 items-center gap-3 px-2 text-small">
        <div className="min-w-0">
          <h2 className="font-semibold">
            {title}{' '}
            <span
              role="status"
              className={clsx(
                'ml-2 px-1.5 font-normal',
                bad ? 'bg-wash-look text-look' : 'bg-wash-good text-good',
              )}
            >
              {words}
            </span>
          </h2>
          <p className="figures truncate text-tiny text-ink-soft">
            step {(100 * Math.abs(figures.step)).toFixed(2)} %, {figures.stepRatio.toFixed(1)} × usual · slope{' '}
            {signedText(figures.slope, 3, '/ms')} · level {signedText(figures.levelDb, 1, 'dB')}
            {figures.tailDb !== null && ` · after the end ${signedText(figures.tailDb, 1, 'dB')}`}
            {figures.tailSeconds !== null && ` for ${figures.tailSeconds.toFixed(2)} s`}
          </p>
        </div>
        <div className="ml-auto">{children}</div>
      </div>
      <div
        className="relative min-h-0 flex-1"
        role="img"
        aria-label={`End and beginning of the loop, ${seconds * 1000} milliseconds to each side. ${words}`}
      >
        <Canvas draw={draw} />
      </div>
    </section>
  );
}
