'use client';
import clsx from 'clsx';
import { X } from 'lucide-react';
import { useState } from 'react';
import { beatTime, feltBeatsPerBar, steadyAt } from '@/core/rhythm/grid';
import { fitPins, type Pinned } from '@/core/rhythm/pins';
import { Button } from '../../kit/Button';
import { IconButton } from '../../kit/IconButton';
import { bpmText, signedText, timeText } from '@/words/figures';
import { gridFollowing, gridSteady, SMOOTH_BEATS, type GridMove } from '../gridMoves';
import type { Bench } from '../useBench';
import { RangePart } from './RangePart';
import { Segmented } from '../../kit/Segmented';
import { Select } from '../../kit/Select';
import { useBenchModel } from '../useBenchModel';
import { BarTable } from './BarTable';

/** Beats to both sides over which a moving grid is smoothed. */
const SMOOTHING = [2, 4, 8, 16];
const SMOOTHING_WORDS = { 2: 'slightly', 4: 'over a bar', 8: 'over a few bars', 16: 'strongly' };

/** One tempo or a moving one; the tempo of every bar; pins and how far they agree. */
export function GridCard() {
  const { bench, settling } = useBenchModel();
  const { shown } = bench;
  const range = <RangePart sampleId={bench.entry.summary.sampleId} />;
  if (!shown)
    return (
      <div className="space-y-4 text-small">
        <p className="text-ink-soft">No grid yet. Type, tap or measure a tempo first.</p>
        {range}
      </div>
    );
  return (
    <div className="space-y-4 text-small">
      <SteadyOrMoving bench={bench} shown={shown} onMove={settling.settle} />
      <Pins shown={shown} onMove={settling.settle} settle={bench.settle} />
      <BarTable shown={shown} />
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
  const follow = (beats: number) =>
    onMove(gridFollowing(bench.now().shown ?? shown, onsets, duration, beats));
  return (
    <section className="space-y-1.5">
      <div className="flex items-center justify-between gap-2">
        <Segmented
          label="Grid"
          value={grid.movingBeats ? 'moving' : 'steady'}
          options={['steady', 'moving']}
          onChange={(way) =>
            way === 'moving' ? follow(smooth) : onMove(gridSteady(bench.now().shown ?? shown))
          }
        />
        <Select
          label="smoothed"
          place="beside"
          small
          value={smooth}
          options={SMOOTHING}
          text={SMOOTHING_WORDS}
          onChange={(beats) => {
            setSmooth(beats);
            if (grid.movingBeats) follow(beats);
          }}
        />
      </div>
      <p className="text-tiny text-ink-soft">
        {grid.movingBeats
          ? 'Beats follow the hits; single loose hits are ignored.'
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
    settle({ pins: rest }, `pin at ${beatName(beat, size)} removed`);
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
              <Button small onClick={fit}>
                Fit one tempo
              </Button>
            )}
            <Button small onClick={() => settle({ pins: [] }, 'all pins removed')}>
              Remove all
            </Button>
          </span>
        )}
      </h2>
      {pins.length === 0 ? (
        <p className="text-ink-soft">
          Drag a bar line onto its hit in the waveform, or press L at the playhead, to pin it. The tempo is
          fitted to all pins.
        </p>
      ) : (
        <table className="w-full">
          <thead className="sr-only">
            <tr>
              <th>Beat</th>
              <th>Time</th>
              <th>Pin − line</th>
              <th>Remove</th>
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
                      small
                      label={`Remove the pin at ${beatName(beat, size)}`}
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
