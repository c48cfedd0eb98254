'use client';
import { useState } from 'react';
import { TextField } from '../../kit/Field';
import { amountIn, whyNotNumber } from '../../kit/numbers';
import { keyText, timeText } from '@/words/figures';
import { tempoTyped } from '../gridMoves';
import type { Bench } from '../useBench';
import { useBenchModel } from '../useBenchModel';

/** Where a grid begins that is made from a tempo alone: the measured one, else the first hit. */
export function firstSoundOf({ entry: { measurement } }: Bench): number {
  return measurement?.theOne ?? measurement?.onsets[0]?.time ?? 0;
}

/** The values in use, in sight whatever is done below. */
export function SettledHead() {
  const { bench, settling } = useBenchModel();
  const onMove = settling.settle;
  const { grid, shown, entry } = bench;
  const { key } = entry.settled;
  return (
    <div className="shrink-0 border-b border-rule-strong px-3 pt-2 pb-1.5">
      <div className="flex items-end gap-2">
        <div className="figures text-[2rem] leading-none font-semibold" data-testid="tempo">
          {grid ? grid.tempoBpm.toFixed(3) : '–'}
        </div>
        <span
          className="pb-0.5 text-small leading-tight text-ink-soft"
          title={
            grid?.movingBeats ? 'From the first beat of the file to the last, pickup included' : undefined
          }
        >
          BPM{grid?.movingBeats && <span className="block text-tiny">average of all beats</span>}
        </span>
        <div className="ml-auto">
          <TypedTempo
            of={grid?.tempoBpm ?? null}
            onTyped={(bpm) => onMove(tempoTyped(shown, bpm, firstSoundOf(bench)))}
          />
        </div>
      </div>
      <dl className="mt-1.5 flex gap-3 text-small">
        <Fact name="the one" value={grid ? timeText(grid.one) : '–'} testId="one" />
        <Fact name="time signature" value={grid ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}` : '–'} />
        <Fact name="key" value={key ? keyText(key) : '–'} />
      </dl>
    </div>
  );
}

function Fact({ name, value, testId }: { name: string; value: string; testId?: string }) {
  return (
    <div className="flex gap-1">
      <dt className="text-ink-soft">{name}</dt>
      <dd className="figures font-semibold" data-testid={testId}>
        {value}
      </dd>
    </div>
  );
}

function TypedTempo({ of, onTyped }: { of: number | null; onTyped: (bpm: number) => void }) {
  const [text, setText] = useState('');
  const fault = text.trim() === '' ? null : whyNotNumber(text, { least: 10, most: 1000, unit: 'BPM', of });
  return (
    <form
      className="flex flex-wrap items-center gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() === '' || fault) return;
        onTyped(amountIn(text, { unit: 'BPM', of })!);
        setText('');
        // The next key is one of the Bench again.
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
      }}
    >
      <TextField
        className="figures w-24"
        inputMode="decimal"
        placeholder="type BPM"
        aria-label="Type a tempo in BPM"
        aria-invalid={fault !== null}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {fault && (
        <span role="alert" className="text-tiny text-one">
          {fault}
        </span>
      )}
    </form>
  );
}
