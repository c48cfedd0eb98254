'use client';
import { ALL_KEYS, keyLabel } from '@/core/harmony/keyNames';
import type { KeyReadingValue } from '@/core/readings/reading';
import type { Lean } from '@/core/rhythm/lean';
import { feltBeatsPerBar, type Meter } from '@/core/rhythm/grid';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';
import { keyText, signedText } from '../../pieces/figures';
import { oneMovedTo, oneOnBeat, tapsTaken, tempoScaled, tempoTyped, type GridMove } from '../gridMoves';
import { placeOfPlayhead, type Snap } from '../snapping';
import type { Bench } from '../useBench';
import type { Taps } from '../useTaps';
import { firstSoundOf } from './SettledHead';
import { TapLine } from './TapLine';
import { WholeNumber } from './WholeNumber';

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

const RATIOS: { ratio: number; text: string; title: string }[] = [
  { ratio: 0.5, text: 'Half', title: 'Half the tempo (H)' },
  { ratio: 2, text: 'Double', title: 'Double the tempo (D)' },
  { ratio: 2 / 3, text: '×⅔', title: 'Three beats become two' },
  { ratio: 1.5, text: '×3⁄2', title: 'Two beats become three' },
  { ratio: 0.75, text: '×¾', title: 'Four beats become three' },
  { ratio: 4 / 3, text: '×4⁄3', title: 'Three beats become four' },
];

interface Props {
  bench: Bench;
  taps: Taps;
  lean: Lean | null;
  snap: Snap;
  onMove: (move: GridMove) => void;
}

/** The ways to change what is settled by number, by key and by tapping. */
export function SettlePanel({ bench, taps, lean, snap, onMove }: Props) {
  const { entry, grid, shown } = bench;
  const duration = entry.summary.durationSeconds ?? 0;
  const firstSound = firstSoundOf(bench);
  return (
    <div className="space-y-2 border-b border-rule-strong pb-3">
      <div className="flex gap-1">
        {RATIOS.map(({ ratio, text, title }) => (
          <Button
            key={text}
            className="flex-1 px-1"
            disabled={!shown}
            title={title}
            onClick={() => shown && onMove(tempoScaled(shown, ratio, text.toLowerCase()))}
          >
            {text}
          </Button>
        ))}
      </div>
      {shown && !shown.grid.movingBeats && (
        <WholeNumber
          grid={shown.grid}
          durationSeconds={duration}
          uprightBpm={lean?.uprightBpm ?? null}
          onTake={(bpm) => onMove(tempoTyped(shown, bpm, 0))}
        />
      )}
      <TapLine
        taps={taps}
        bpm={grid?.tempoBpm ?? null}
        onTake={() => {
          if (!taps.estimate) return;
          onMove(tapsTaken(shown, taps.estimate, firstSound, taps.placesOne));
          taps.clear();
        }}
      />
      <div className="grid grid-cols-[3.5rem_1fr] items-center gap-y-1.5 text-small">
        <OneLine bench={bench} snap={snap} onMove={onMove} />
        <MeterLine bench={bench} />
        <KeyLine bench={bench} />
      </div>
    </div>
  );
}

function OneLine({ bench, snap, onMove }: Pick<Props, 'bench' | 'snap' | 'onMove'>) {
  const { shown, audio } = bench;
  const move = (run: (from: NonNullable<typeof shown>) => GridMove) => () => shown && onMove(run(shown));
  const sampleMs = audio ? 1000 / audio.sampleRate : null;
  return (
    <>
      <span className="text-ink-soft">The one</span>
      <div className="flex items-center gap-0.5">
        <span className="mr-1 text-tiny text-ink-soft">ms</span>
        {[-1, -0.1, 0.1, 1].map((ms) => (
          <Button
            key={ms}
            className="w-8 px-0"
            disabled={!shown}
            aria-label={`The one ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
            title={`${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
            onClick={move((from) => oneMovedTo(from, from.grid.one + ms / 1000))}
          >
            <span className="figures text-tiny">{signedText(ms, Math.abs(ms) < 1 ? 1 : 0, '').trim()}</span>
          </Button>
        ))}
        <Button
          className="ml-auto px-1.5"
          disabled={!shown || !audio}
          title="The one is at the playhead, on its hit when that snaps (O)"
          onClick={move((from) => oneMovedTo(from, placeOfPlayhead(bench, snap)))}
        >
          Here
        </Button>
      </div>
      <span />
      <div className="flex items-center gap-0.5">
        <span className="mr-1 text-tiny text-ink-soft">by a beat</span>
        {[-1, 1].map((beats) => (
          <Button
            key={beats}
            className="h-6 w-8 px-0"
            disabled={!shown}
            aria-label={`The one is the beat ${beats < 0 ? 'before' : 'after'}`}
            title={`Another beat of the same lines is the one (${beats < 0 ? 'Alt + ←' : 'Alt + →'})`}
            onClick={move((from) => oneOnBeat(from, beats))}
          >
            {beats < 0 ? '‹' : '›'}
          </Button>
        ))}
        <span className="mr-1 ml-2 text-tiny text-ink-soft">by a sample</span>
        {[-1, 1].map((samples) => (
          <Button
            key={samples}
            className="h-6 w-8 px-0"
            disabled={!shown || !sampleMs}
            aria-label={`The one one sample ${samples < 0 ? 'earlier' : 'later'}`}
            title={`One sample of the file (Ctrl + ${samples < 0 ? ',' : '.'})`}
            onClick={move((from) => oneMovedTo(from, from.grid.one + (samples * sampleMs!) / 1000))}
          >
            {samples < 0 ? '‹' : '›'}
          </Button>
        ))}
      </div>
    </>
  );
}

function MeterLine({ bench: { grid, settle } }: { bench: Bench }) {
  return (
    <>
      <label htmlFor="meter" className="text-ink-soft">
        Meter
      </label>
      <div className="flex items-center gap-2">
        <select
          id="meter"
          className={`${fieldClass} w-20`}
          disabled={!grid}
          value={grid ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}` : ''}
          onChange={(event) => {
            const [beatsPerBar, beatUnit] = event.target.value.split('/').map(Number);
            if (!grid) return;
            settle({ grid: { ...grid, meter: { beatsPerBar, beatUnit } } }, `meter ${event.target.value}`, {
              property: 'meter',
              value: { beatsPerBar, beatUnit },
              source: 'typed',
              sureness: 0.95,
              detail: 'chosen on the Bench',
            });
          }}
        >
          {!grid && <option value="">–</option>}
          {METERS.map(({ beatsPerBar, beatUnit }) => (
            <option key={`${beatsPerBar}/${beatUnit}`}>{`${beatsPerBar}/${beatUnit}`}</option>
          ))}
        </select>
        {grid && feltBeatsPerBar(grid.meter) !== grid.meter.beatsPerBar && (
          <span className="text-tiny text-ink-soft">
            felt in {feltBeatsPerBar(grid.meter)}, a beat is three eighths
          </span>
        )}
      </div>
    </>
  );
}

function KeyLine({ bench: { entry, settle } }: { bench: Bench }) {
  const { settled } = entry;
  return (
    <>
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
            settle({ key: value }, `key ${keyText(value)}`, {
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
    </>
  );
}

function keyFrom(label: string): KeyReadingValue | null {
  if (label === 'no key') return { none: true };
  const key = ALL_KEYS.find((one) => keyLabel(one) === label);
  return key ? { tonic: key.tonic, mode: key.mode } : null;
}
