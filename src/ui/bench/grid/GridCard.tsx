'use client';
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import clsx from 'clsx';
import { X } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { beatTime, feltBeatsPerBar, steadyAt } from '@/core/rhythm/grid';
import { averageOfBars, barTempi, type BarTempo } from '@/core/rhythm/movingGrid';
import { fitPins, pinsMetBy, pullPin, type Pinned } from '@/core/rhythm/pins';
import { engine } from '../../audio/engine';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';
import { IconButton } from '../../pieces/IconButton';
import { bpmText, signedText, timeText } from '../../pieces/figures';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { gridFollowing, gridSteady, SMOOTH_BEATS, type GridMove } from '../gridMoves';
import type { Bench } from '../useBench';
import type { Settling } from '../useSettling';
import { RangePart } from './RangePart';

/** Beats to both sides over which a moving grid is smoothed. */
const SMOOTHING = [
  { beats: 2, name: 'hardly' },
  { beats: 4, name: 'one bar or so' },
  { beats: 8, name: 'some bars' },
  { beats: 16, name: 'much' },
];

interface Props {
  bench: Bench;
  settling: Settling;
}

/** One tempo or a moving one; the tempo of every bar; pins and how far they agree. */
export function GridCard({ bench, settling }: Props) {
  const { shown } = bench;
  const range = <RangePart sampleId={bench.entry.summary.sampleId} />;
  if (!shown)
    return (
      <div className="space-y-4 text-small">
        <p className="text-ink-soft">No grid is settled. Type, tap or measure a tempo first.</p>
        {range}
      </div>
    );
  return (
    <div className="space-y-4 text-small">
      <SteadyOrMoving bench={bench} shown={shown} onMove={settling.settle} />
      <Pins shown={shown} onMove={settling.settle} settle={bench.settle} />
      <BarTable bench={bench} shown={shown} onMove={settling.settle} />
      {range}
    </div>
  );
}

type Part = { shown: Pinned; onMove: (move: GridMove) => void };

function SteadyOrMoving({ bench, shown, onMove }: Part & { bench: Bench }) {
  const { grid } = shown;
  const { measurement, summary } = bench.entry;
  const [smooth, setSmooth] = useState(SMOOTH_BEATS);
  const duration = summary.durationSeconds ?? 0;
  const onsets = measurement?.onsets ?? [];
  const follow = (beats: number) => onMove(gridFollowing(shown, onsets, duration, beats));
  return (
    <section className="space-y-1.5">
      <div className="flex items-center gap-2" role="radiogroup" aria-label="Steady or moving">
        <span className="w-12 text-ink-soft">Grid</span>
        <Button
          role="radio"
          aria-checked={!grid.movingBeats}
          pressed={!grid.movingBeats}
          onClick={() => onMove(gridSteady(shown))}
        >
          steady
        </Button>
        <Button
          role="radio"
          aria-checked={Boolean(grid.movingBeats)}
          pressed={Boolean(grid.movingBeats)}
          disabled={onsets.length < 4}
          onClick={() => follow(smooth)}
        >
          moving
        </Button>
        <label className="ml-auto flex items-center gap-1 text-ink-soft">
          smoothed
          <select
            className={`${fieldClass} h-6 px-1`}
            value={smooth}
            onChange={(event) => {
              const beats = Number(event.target.value);
              setSmooth(beats);
              if (grid.movingBeats) follow(beats);
            }}
          >
            {SMOOTHING.map(({ beats, name }) => (
              <option key={beats} value={beats}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <p className="text-tiny text-ink-soft">
        {grid.movingBeats
          ? 'Beats follow the hits; loose single ones are not followed.'
          : 'One tempo over the whole file.'}
      </p>
    </section>
  );
}

function Pins({ shown, onMove, settle }: Part & { settle: Bench['settle'] }) {
  const { grid, pins } = shown;
  const size = feltBeatsPerBar(grid.meter);
  const without = (beat: number) => {
    const rest = pins.filter((pin) => pin.beat !== beat);
    settle({ pins: rest }, `pin at ${beatName(beat, size)} taken out`);
  };
  const fit = () => {
    const { tempoBpm, one } = fitPins(pins);
    onMove({
      grid: { ...steadyAt(grid, tempoBpm), one },
      pins,
      words: `fitted to ${pins.length} pins: ${bpmText(tempoBpm)} BPM`,
      reading: {
        property: 'tempo',
        value: tempoBpm,
        source: 'pins',
        sureness: 0.95,
        detail: `${pins.length} pins`,
      },
    });
  };
  return (
    <section aria-label="Pins" className="space-y-1">
      <h2 className="flex items-center font-semibold">
        Pins
        {pins.length > 0 && (
          <span className="ml-auto flex gap-1">
            {pins.length > 1 && (
              <Button className="h-6" onClick={fit}>
                Fit one tempo
              </Button>
            )}
            <Button className="h-6" onClick={() => settle({ pins: [] }, 'all pins taken out')}>
              None
            </Button>
          </span>
        )}
      </h2>
      {pins.length === 0 ? (
        <p className="text-ink-soft">
          Pull a bar line onto its hit in the line view, or press L at the playhead: that pins it, and the one
          tempo agrees with all pins.
        </p>
      ) : (
        <table className="w-full">
          <thead className="sr-only">
            <tr>
              <th>Beat</th>
              <th>Time</th>
              <th>Pin minus line</th>
              <th>Take out</th>
            </tr>
          </thead>
          <tbody>
            {pins.map(({ beat, time }) => {
              const off = 1000 * (time - beatTime(grid, beat));
              return (
                <tr key={beat} className="h-6 border-b border-rule">
                  <td>{beatName(beat, size)}</td>
                  <td className="figures text-right">{timeText(time)}</td>
                  <td className={clsx('figures pr-1 text-right', Math.abs(off) > 8 && 'text-look')}>
                    {signedText(off, 1, 'ms')}
                  </td>
                  <td className="w-6">
                    <IconButton
                      className="size-6"
                      label={`Take the pin at ${beatName(beat, size)} out`}
                      onClick={() => without(beat)}
                    >
                      <X />
                    </IconButton>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

function beatName(beat: number, size: number): string {
  if (beat === 0) return 'the one';
  const bar = Math.floor(beat / size + 1e-9) + 1;
  const place = beat - (bar - 1) * size;
  return place < 1e-6 ? `bar ${bar}` : `bar ${bar}, beat ${Number((place + 1).toFixed(2))}`;
}

function BarTable({ bench, shown: { grid, pins }, onMove }: Part & { bench: Bench }) {
  const duration = bench.entry.summary.durationSeconds ?? 0;
  const bars = useMemo(() => barTempi(grid, duration), [grid, duration]);
  const [from, setFrom] = useState(1);
  const [to, setTo] = useState<number | null>(null);
  const last = Math.min(bars.length, to ?? bars.length);
  const first = Math.min(from, Math.max(1, last));
  if (bars.length === 0) return <p className="text-ink-soft">No whole bar lies in the file.</p>;
  const average = averageOfBars(grid, first, last);
  const pull = (bar: number, bpm: number) => {
    // A bar's own tempo: the next bar line goes where it says, what follows keeps its tempi.
    const { time } = bars[bar - 1];
    const size = feltBeatsPerBar(grid.meter);
    const end = time + (60 * size) / bpm;
    try {
      const moved = pullPin({ grid, pins: [{ beat: (bar - 1) * size, time }] }, bar * size, end);
      onMove({
        grid: moved.grid,
        pins: pinsMetBy(moved.grid, pins),
        words: `bar ${bar} at ${bpmText(bpm)} BPM`,
      });
    } catch {
      /* A tempo that makes beats change places is not taken. */
    }
  };
  return (
    <section aria-label="Tempo of the bars" className="space-y-1.5">
      <h2 className="font-semibold">Bar by bar</h2>
      {grid.movingBeats && <TempoTrace bars={bars} />}
      <div className="flex items-center gap-1.5">
        <span className="text-ink-soft">bars</span>
        <NumberBox label="First bar of the average" value={first} most={bars.length} onValue={setFrom} />
        <span className="text-ink-soft">to</span>
        <NumberBox label="Last bar of the average" value={last} most={bars.length} onValue={setTo} />
        <b className="figures ml-auto">{average.tempoBpm.toFixed(3)}</b>
        <Button
          className="h-6"
          title="One tempo for the whole file: the average of these bars"
          onClick={() =>
            onMove({
              grid: average,
              pins: pinsMetBy(average, pins),
              words: `average of bars ${first} to ${last}: ${bpmText(average.tempoBpm)} BPM`,
            })
          }
        >
          Settle
        </Button>
      </div>
      {grid.movingBeats && (
        <div className="max-h-56 overflow-y-auto border border-rule">
          <table className="w-full">
            <thead className="sticky top-0 bg-paper text-left text-tiny text-ink-soft">
              <tr>
                <th className="pl-2 font-normal">Bar</th>
                <th className="text-right font-normal">at</th>
                <th className="text-right font-normal">BPM</th>
              </tr>
            </thead>
            <tbody>
              {bars.map(({ bar, time, bpm }) => (
                <tr key={bar} className="border-t border-rule">
                  <td className="pl-2">
                    <button
                      type="button"
                      className="figures hover:underline"
                      onClick={() => engine.seek(time)}
                    >
                      {bar}
                    </button>
                  </td>
                  <td className="figures text-right">{timeText(time, 3)}</td>
                  <td className="text-right">
                    <input
                      key={bpm}
                      className="figures w-20 bg-transparent px-1 text-right"
                      aria-label={`Tempo of bar ${bar}`}
                      inputMode="decimal"
                      defaultValue={bpm.toFixed(2)}
                      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
                      onBlur={(event) => {
                        const value = Number(event.target.value.replace(',', '.'));
                        if (value >= 10 && value <= 1000 && Math.abs(value - bpm) > 0.006) pull(bar, value);
                        else event.target.value = bpm.toFixed(2);
                      }}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function NumberBox(props: { label: string; value: number; most: number; onValue: (value: number) => void }) {
  return (
    <input
      type="number"
      aria-label={props.label}
      className={`${fieldClass} figures h-6 w-16 px-1`}
      min={1}
      max={props.most}
      value={props.value}
      onChange={(event) => {
        const value = Number(event.target.value);
        if (value >= 1) props.onValue(Math.min(props.most, Math.floor(value)));
      }}
    />
  );
}

/** The tempo along the bars. */
function TempoTrace({ bars }: { bars: readonly BarTempo[] }) {
  const inks = useInks();
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const [low, high] = extent(bars, ({ bpm }) => bpm) as [number, number];
      const margin = Math.max(0.5, (high - low) * 0.15);
      const x = scaleLinear([1, Math.max(2, bars.length)], [36, width - 6]);
      const y = scaleLinear([low - margin, high + margin], [height - 4, 4]);
      context.fillStyle = inks.sheet;
      context.fillRect(0, 0, width, height);
      context.font = '10px "Spline Sans Mono Variable", monospace';
      context.textBaseline = 'middle';
      for (const tick of y.ticks(3)) {
        context.fillStyle = inks.rule;
        context.fillRect(34, Math.round(y(tick)), width, 1);
        context.fillStyle = inks['ink-soft'];
        context.fillText(String(tick), 2, y(tick));
      }
      context.strokeStyle = inks.trace;
      context.lineWidth = 1.5;
      context.beginPath();
      bars.forEach(({ bar, bpm }, i) =>
        i === 0 ? context.moveTo(x(bar), y(bpm)) : context.lineTo(x(bar), y(bpm)),
      );
      context.stroke();
    },
    [bars, inks],
  );
  const [low, high] = extent(bars, ({ bpm }) => bpm) as [number, number];
  return (
    <div
      className="relative h-24 border border-rule"
      role="img"
      aria-label={`Tempo along the bars, from ${low.toFixed(1)} to ${high.toFixed(1)} BPM`}
    >
      <Canvas draw={draw} />
    </div>
  );
}
