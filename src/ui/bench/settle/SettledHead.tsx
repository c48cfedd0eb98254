'use client';
import { useState } from 'react';
import { TextField } from '../../pieces/Field';
import { keyText, timeText } from '../../pieces/figures';
import { tempoTyped, type GridMove } from '../gridMoves';
import type { Bench } from '../useBench';

/** Where a grid begins that is made from a tempo alone: the measured one, else the first hit. */
export function firstSoundOf({ entry: { measurement } }: Bench): number {
  return measurement?.theOne ?? measurement?.onsets[0]?.time ?? 0;
}

/** What is settled now, in sight whatever is done below it. */
export function SettledHead({ bench, onMove }: { bench: Bench; onMove: (move: GridMove) => void }) {
  const { grid, shown, entry } = bench;
  const { key } = entry.settled;
  return (
    <div className="shrink-0 border-b border-rule-strong px-3 pt-2 pb-1.5">
      <div className="flex items-end gap-2">
        <div className="figures text-[2rem] leading-none font-semibold" data-testid="tempo">
          {grid ? grid.tempoBpm.toFixed(3) : '–'}
        </div>
        <span className="pb-0.5 text-small text-ink-soft">BPM{grid?.movingBeats ? ', average' : ''}</span>
        <div className="ml-auto">
          <TypedTempo onTyped={(bpm) => onMove(tempoTyped(shown, bpm, firstSoundOf(bench)))} />
        </div>
      </div>
      <dl className="mt-1.5 flex gap-3 text-small">
        <Fact name="the one" value={grid ? timeText(grid.one) : '–'} testId="one" />
        <Fact name="meter" value={grid ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}` : '–'} />
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

function TypedTempo({ onTyped }: { onTyped: (bpm: number) => void }) {
  const [text, setText] = useState('');
  const bpm = Number(text.replace(',', '.'));
  const bad = text.trim() !== '' && !(bpm >= 10 && bpm <= 1000);
  return (
    <form
      className="flex"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() === '' || bad) return;
        onTyped(bpm);
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
        aria-invalid={bad}
        title={bad ? 'A tempo lies between 10 and 1000 BPM.' : undefined}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
    </form>
  );
}
