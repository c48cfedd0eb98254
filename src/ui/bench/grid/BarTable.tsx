'use client';
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { useCallback, useMemo, useState } from 'react';
import { bpmText, timeText } from '@/words/figures';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { averageOfBars, barTempi, type BarTempo } from '@/core/rhythm/movingGrid';
import { pinsMetBy, pullPin, type Pinned } from '@/core/rhythm/pins';
import { engine } from '../../audio/engine';
import { Button } from '../../kit/Button';
import { NumberField } from '../../kit/NumberField';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { useBenchModel } from '../useBenchModel';

/** The tempo of every bar, to be changed, and the average of bars to be used as one tempo. */
export function BarTable({ shown: { grid, pins } }: { shown: Pinned }) {
  const { bench, settling } = useBenchModel();
  const onMove = settling.settle;
  const duration = bench.entry.summary.durationSeconds ?? 0;
  const bars = useMemo(() => barTempi(grid, duration), [grid, duration]);
  const [from, setFrom] = useState(1);
  const [to, setTo] = useState<number | null>(null);
  const last = Math.min(bars.length, to ?? bars.length);
  const first = Math.min(from, Math.max(1, last));
  if (bars.length === 0) return <p className="text-ink-soft">The file holds no whole bar.</p>;
  const average = averageOfBars(grid, first, last);
  const pull = (bar: number, bpm: number) => {
    // A bar's own tempo: the next bar line goes where it says, what follows keeps its tempi.
    const { time } = bars[bar - 1];
    const size = feltBeatsPerBar(grid.meter);
    const end = time + (60 * size) / bpm;
    try {
      const now = bench.now().shown;
      const moved = pullPin(
        { grid: now?.grid ?? grid, pins: [{ beat: (bar - 1) * size, time }] },
        bar * size,
        end,
      );
      onMove({
        grid: moved.grid,
        pins: pinsMetBy(moved.grid, now?.pins ?? pins),
        words: `bar ${bar} at ${bpmText(bpm)} BPM`,
      });
    } catch {
      /* A tempo that makes beats change places is not taken. */
    }
  };
  return (
    <section aria-label="Tempo of the bars" className="space-y-1.5">
      <h2 className="font-semibold">Tempo by bar</h2>
      {grid.movingBeats && <TempoTrace bars={bars} />}
      <div className="flex items-center gap-1.5">
        <span className="text-ink-soft">bars</span>
        <NumberField
          label="First bar of the average"
          small
          whole
          least={1}
          most={bars.length}
          value={first}
          onValue={setFrom}
        />
        <span className="text-ink-soft">to</span>
        <NumberField
          label="Last bar of the average"
          small
          whole
          least={1}
          most={bars.length}
          value={last}
          onValue={setTo}
        />
        <span className="ml-auto text-right text-tiny leading-tight text-ink-soft">
          average of
          <br />
          these bars
        </span>
        <b className="figures">{average.tempoBpm.toFixed(3)}</b>
        <Button
          small
          title="Use the average of these bars as one tempo for the whole file"
          onClick={() =>
            onMove({
              grid: average,
              pins: pinsMetBy(average, pins),
              words: `average of bars ${first} to ${last}: ${bpmText(average.tempoBpm)} BPM`,
            })
          }
        >
          Use
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
                    <NumberField
                      label={`Tempo of bar ${bar}`}
                      small
                      className="w-20 border-transparent! bg-transparent! text-right"
                      value={bpm}
                      least={10}
                      most={1000}
                      step={0.1}
                      text={(value) => value.toFixed(2)}
                      onValue={(value) => Math.abs(value - bpm) > 0.006 && pull(bar, value)}
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
