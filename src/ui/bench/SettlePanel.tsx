'use client';
import { useState } from 'react';
import { ALL_KEYS, keyLabel } from '@/core/harmony/keyNames';
import type { KeyReadingValue } from '@/core/readings/reading';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { barTime, type Meter } from '@/core/rhythm/grid';
import { player } from '../audio/player';
import { Button } from '../pieces/Button';
import { fieldClass, TextField } from '../pieces/Field';
import { KeyHint } from '../pieces/KeyHint';
import { bpmText, keyText, percentText, signedText, timeText } from '../pieces/figures';
import { barsUntil, oneMovedTo, tempoScaled, tempoTyped, type GridMove } from './gridMoves';
import type { Bench } from './useBench';
import type { Taps } from './useTaps';

const METERS: Meter[] = [
  [2, 4],
  [3, 4],
  [4, 4],
  [5, 4],
  [6, 4],
  [7, 4],
  [3, 8],
  [5, 8],
  [6, 8],
  [7, 8],
  [9, 8],
  [12, 8],
].map(([beatsPerBar, beatUnit]) => ({ beatsPerBar, beatUnit }));

interface Props {
  bench: Bench;
  taps: Taps;
  onMove: (move: GridMove) => void;
}

/** What is settled, and the ways to change it by number, by key and by tapping. */
export function SettlePanel({ bench, taps, onMove }: Props) {
  const { entry, grid, audio } = bench;
  const { settled } = entry;
  const duration = entry.summary.durationSeconds ?? 0;
  return (
    <div className="space-y-2 border-b border-rule-strong pb-3">
      <div className="flex items-end gap-2">
        <div className="figures text-[2rem] leading-none font-semibold" data-testid="tempo">
          {grid ? grid.tempoBpm.toFixed(3) : '–'}
        </div>
        <span className="pb-0.5 text-small text-ink-soft">
          BPM{grid?.movingBeats ? ', average of a moving grid' : ''}
        </span>
        <div className="ml-auto">
          <TypedTempo
            onTyped={(bpm) =>
              onMove(
                tempoTyped(grid, bpm, entry.measurement?.theOne ?? entry.measurement?.onsets[0]?.time ?? 0),
              )
            }
          />
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-1.5">
        <Button disabled={!grid} onClick={() => grid && onMove(tempoScaled(grid, 0.5, 'half'))}>
          Half <KeyHint>H</KeyHint>
        </Button>
        <Button disabled={!grid} onClick={() => grid && onMove(tempoScaled(grid, 2, 'double'))}>
          Double <KeyHint>D</KeyHint>
        </Button>
        <Button
          disabled={!grid}
          title="Two beats become three"
          onClick={() => grid && onMove(tempoScaled(grid, 1.5, '×3⁄2'))}
        >
          ×3⁄2
        </Button>
        <Button
          disabled={!grid}
          title="Three beats become two"
          onClick={() => grid && onMove(tempoScaled(grid, 2 / 3, '×⅔'))}
        >
          ×⅔
        </Button>
      </div>
      {grid && !grid.movingBeats && (
        <WholeNumber
          bpm={grid.tempoBpm}
          bars={barsUntil(grid, duration)}
          end={barTime(grid, barsUntil(grid, duration) + 1)}
          one={grid.one}
          onTake={(bpm) => onMove(tempoTyped(grid, bpm, 0))}
        />
      )}
      <TapLine taps={taps} bpm={grid?.tempoBpm ?? null} onTake={(move) => onMove(move)} bench={bench} />
      <div className="grid grid-cols-[3.5rem_1fr] items-center gap-y-1.5 text-small">
        <span className="text-ink-soft">The one</span>
        <div className="flex items-center gap-0.5">
          <span className="figures w-[4.4rem] font-semibold" data-testid="one">
            {grid ? timeText(grid.one) : '–'}
          </span>
          {[-10, -1, 1, 10].map((ms) => (
            <Button
              key={ms}
              className="w-9 px-0"
              disabled={!grid}
              aria-label={`The one ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
              onClick={() => grid && onMove(oneMovedTo(grid, grid.one + ms / 1000))}
            >
              <span className="figures">{signedText(ms, 0, '').trim()}</span>
            </Button>
          ))}
          <Button
            className="ml-1"
            disabled={!grid || !audio}
            title="The one is at the playhead (O)"
            onClick={() => grid && onMove(oneMovedTo(grid, player.position()))}
          >
            Here
          </Button>
        </div>
        <label htmlFor="meter" className="text-ink-soft">
          Meter
        </label>
        <select
          id="meter"
          className={`${fieldClass} w-20`}
          disabled={!grid}
          value={grid ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}` : ''}
          onChange={(event) => {
            const [beatsPerBar, beatUnit] = event.target.value.split('/').map(Number);
            if (!grid) return;
            bench.settle(
              { grid: { ...grid, meter: { beatsPerBar, beatUnit } } },
              `meter ${event.target.value}`,
              {
                property: 'meter',
                value: { beatsPerBar, beatUnit },
                source: 'typed',
                sureness: 0.95,
                detail: 'chosen on the Bench',
              },
            );
          }}
        >
          {!grid && <option value="">–</option>}
          {METERS.map(({ beatsPerBar, beatUnit }) => (
            <option key={`${beatsPerBar}/${beatUnit}`}>{`${beatsPerBar}/${beatUnit}`}</option>
          ))}
        </select>
        <label htmlFor="key" className="text-ink-soft">
          Key
        </label>
        <div className="flex items-center gap-2">
          <select
            id="key"
            className={`${fieldClass} w-32`}
            value={settled.key ? keyText(settled.key) : ''}
            onChange={(event) => {
              const value = keyFrom(event.target.value);
              if (!value) return;
              bench.settle({ key: value }, `key ${keyText(value)}`, {
                property: 'key',
                value,
                source: 'typed',
                sureness: 0.95,
                detail: 'chosen on the Bench',
              });
            }}
          >
            {!settled.key && <option value="">not settled</option>}
            <option>no key</option>
            {ALL_KEYS.map((key) => (
              <option key={keyLabel(key)}>{keyLabel(key)}</option>
            ))}
          </select>
          {settled.tuningCents !== null && (
            <span className="figures text-ink-soft">tuned {signedText(settled.tuningCents, 0, 'cents')}</span>
          )}
        </div>
      </div>
    </div>
  );
}

function keyFrom(label: string): KeyReadingValue | null {
  if (label === 'no key') return { none: true };
  const key = ALL_KEYS.find((one) => keyLabel(one) === label);
  return key ? { tonic: key.tonic, mode: key.mode } : null;
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

/** Offers the nearest whole number with what it would do to the last bar. */
function WholeNumber({
  bpm,
  bars,
  end,
  one,
  onTake,
}: {
  bpm: number;
  bars: number;
  end: number;
  one: number;
  onTake: (bpm: number) => void;
}) {
  const whole = Math.round(bpm);
  const share = Math.abs(whole / bpm - 1);
  if (bars < 1 || share < 1e-7 || share > 0.004) return null;
  const offMs = 1000 * ((end - one) * (bpm / whole) - (end - one));
  return (
    <p className="flex items-center gap-2 text-small">
      <Button onClick={() => onTake(whole)}>
        <span className="figures">{whole}</span>
      </Button>
      <span className="text-ink-soft">
        would put the end of bar {bars} <span className="figures">{Math.abs(offMs).toFixed(1)} ms</span>{' '}
        {offMs < 0 ? 'earlier' : 'later'}
      </span>
    </p>
  );
}

function TapLine({
  taps,
  bpm,
  bench,
  onTake,
}: {
  taps: Taps;
  bpm: number | null;
  bench: Bench;
  onTake: (move: GridMove) => void;
}) {
  const { estimate, count } = taps;
  const relation = estimate && bpm ? tempoRelation(estimate.bpm, bpm) : null;
  const take = () => {
    if (!estimate) return;
    const base = tempoTyped(bench.grid, estimate.bpm, bench.entry.measurement?.theOne ?? 0);
    onTake({
      grid: base.grid,
      words: `${bpmText(estimate.bpm)} BPM from ${estimate.taps} taps`,
      reading: {
        property: 'tempo',
        value: estimate.bpm,
        source: 'taps',
        sureness: estimate.sureness,
        detail: `${estimate.taps} taps, spread ${estimate.spreadMs.toFixed(0)} ms`,
      },
    });
    taps.clear();
  };
  return (
    <div className="flex min-h-7 items-center gap-2 text-small">
      <Button
        onPointerDown={(event) => taps.tap(event.timeStamp)}
        onKeyDown={(event) =>
          (event.code === 'Space' || event.code === 'Enter') && !event.repeat && taps.tap(event.timeStamp)
        }
        title="Tap along with the beat (T)"
      >
        Tap <KeyHint>T</KeyHint>
      </Button>
      {estimate ? (
        <>
          <span className="leading-tight" role="status" data-testid="taps">
            <b className="figures">
              {estimate.bpm.toFixed(2)} ±{Math.max(0.01, estimate.bpmError).toFixed(2)}
            </b>{' '}
            <span className="text-ink-soft">
              {estimate.taps} taps, {percentText(estimate.sureness)} sure
              {relation ? `, ${relation.words}` : ''}
            </span>
          </span>
          <Button className="ml-auto" onClick={take}>
            Use
          </Button>
        </>
      ) : (
        <span className="text-ink-soft">
          {count > 0 ? `${count} of at least 3 taps` : 'along with the beat'}
        </span>
      )}
    </div>
  );
}
