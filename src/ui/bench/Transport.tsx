'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Play, Repeat, Settings2, SkipBack, Square } from 'lucide-react';
import { memo, useMemo, useRef } from 'react';
import { proposalOfRow } from '@/core/fit/aims';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/core/library/entry';
import { beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { CLICK_SOUNDS, type ClickSound } from '@/core/playing/clickSound';
import type { ClickPace } from '@/core/playing/click';
import { engine } from '../audio/engine';
import { SPEEDS, type EngineState, type Speed } from '../audio/engineState';
import { useEngine, usePlayhead } from '../audio/useEngine';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';
import { bpmText } from '../pieces/figures';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { character, useKeys } from '../shell/keys';
import { proposalSentence } from '../target/proposalWords';
import { aimOf, useTarget } from '../target/target';
import { atTarget, useAim } from '../target/useAim';
import { LatencyTest } from './LatencyTest';
import type { Rounds } from './useRound';

interface Props {
  grid: Grid | null;
  rounds: Rounds;
  row: SampleSummary;
}

const everything = (state: EngineState) => state;

export const LOOP_CHOICES = [0, 1, 2, 4, 8, 16];

const PACES: { name: string; pace: ClickPace['pace']; subdivision: ClickPace['subdivision'] }[] = [
  { name: 'half time', pace: 0.5, subdivision: 1 },
  { name: 'every beat', pace: 1, subdivision: 1 },
  { name: 'eighths', pace: 1, subdivision: 2 },
  { name: 'triplets', pace: 1, subdivision: 3 },
  { name: 'sixteenths', pace: 1, subdivision: 4 },
  { name: 'double time', pace: 2, subdivision: 1 },
];

/** Playing, what goes round, and the click: everything here changes while it sounds. */
export const Transport = memo(function Transport({ grid, rounds, row }: Props) {
  const { status, click, loaded, fault, speed, solo } = useEngine(everything);
  const playing = status === 'playing';
  const ready = status === 'ready' || playing;
  const pace = PACES.findIndex((one) => one.pace === click.pace && one.subdivision === click.subdivision);
  return (
    <div
      className="relative flex h-[4.25rem] shrink-0 items-center gap-2.5 border-t border-rule-strong bg-sheet px-3"
      role="group"
      aria-label="Transport"
    >
      {fault && (
        <p
          role="alert"
          className="absolute inset-x-0 bottom-full border-t border-one bg-wash-one px-3 py-1 text-small text-one"
        >
          {fault}
        </p>
      )}
      <div className="flex items-center gap-1">
        <Button
          tone="strong"
          className="h-11 w-14"
          disabled={!ready}
          aria-label={playing ? 'Stop' : 'Play'}
          title={playing ? 'Stop (Space)' : 'Play (Space)'}
          onClick={() => engine.toggle()}
        >
          {playing ? <Square className="size-5" /> : <Play className="size-5" />}
        </Button>
        <IconButton
          label="Play from the one (Enter)"
          disabled={!ready || !grid}
          onClick={() => void engine.play(grid?.one ?? 0)}
        >
          <SkipBack />
        </IconButton>
      </div>
      <div className="w-24 leading-tight whitespace-nowrap">
        <Where grid={grid} />
        {status !== 'empty' && loaded < 1 && (
          <progress className="h-1 w-full" max={1} value={loaded} aria-label="Fetching audio" />
        )}
      </div>
      <label className="flex flex-col text-tiny text-ink-soft">
        <span className="flex items-center gap-1">
          <Repeat className="size-3" aria-hidden /> Go round
        </span>
        <RoundChoice grid={grid} rounds={rounds} />
      </label>
      <label className="flex flex-col text-tiny text-ink-soft">
        Speed
        <select
          className={fieldClass}
          title="Slower with the pitch held (S)"
          value={speed}
          onChange={(event) => engine.setSpeed(Number(event.target.value) as Speed)}
        >
          {SPEEDS.map((one) => (
            <option key={one} value={one}>
              {one === 1 ? 'full' : one === 0.75 ? '¾' : '½'}
            </option>
          ))}
        </select>
      </label>
      <AtTarget row={row} />
      <div className="h-12 border-l border-rule" />
      <div className="flex flex-1 items-end gap-2">
        <Button
          className="h-11 w-[5.5rem]"
          pressed={click.on}
          onClick={() => engine.setClick({ on: !click.on })}
          title="Click on or off (C); hold Z for the click alone, X for the audio alone"
        >
          {solo === 'click'
            ? 'Click only'
            : solo === 'audio'
              ? 'Audio only'
              : `Click ${click.on ? 'on' : 'off'}`}
        </Button>
        <label className="flex flex-col text-tiny text-ink-soft">
          Clicks
          <select
            className={fieldClass}
            value={pace}
            onChange={(event) => {
              const { pace: next, subdivision } = PACES[Number(event.target.value)];
              engine.setClick({ pace: next, subdivision });
            }}
          >
            {PACES.map(({ name }, i) => (
              <option key={name} value={i}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <Slider
          label="Level"
          title="How loud the click is"
          min={0}
          max={2}
          value={click.level}
          onValue={(level) => engine.setClick({ level })}
        />
        <Slider
          label="Balance"
          title="More of the audio at the left, more of the click at the right"
          min={-1}
          max={1}
          value={click.balance}
          onValue={(balance) => engine.setClick({ balance })}
        />
        <Button
          className="h-7 px-2"
          pressed={click.split}
          title="Audio in the left ear, click in the right one"
          onClick={() => engine.setClick({ split: !click.split })}
        >
          Ears apart
        </Button>
        <ClickDetails />
      </div>
    </div>
  );
});

function Slider({
  label,
  title,
  onValue,
  ...range
}: {
  label: string;
  title?: string;
  min: number;
  max: number;
  value: number;
  onValue: (value: number) => void;
}) {
  return (
    <label className="flex flex-col text-tiny text-ink-soft" title={title}>
      {label}
      <input
        type="range"
        className="h-7 w-14"
        step={0.05}
        {...range}
        onChange={(event) => onValue(Number(event.target.value))}
      />
    </label>
  );
}

/** What is set once and seldom changed. */
/** Hears the sample at the tempo and key of the target; Space hears it as it was recorded again. */
function AtTarget({ row }: Pick<Props, 'row'>) {
  const target = useTarget();
  const aim = useAim({ hasClick: true });
  const isAimed = useEngine((state) => state.status === 'playing' && engine.atTarget.includes(row.sampleId));
  useKeys(
    useMemo(
      () => [
        {
          keys: 'V',
          does: 'Play at the target, or stop',
          group: 'Target',
          matches: character('v'),
          run: () => atTarget(aim, row, engine.position()),
        },
      ],
      [aim, row],
    ),
  );
  if (!target.isOn) return null;
  const { tempoBpm, key } = target;
  return (
    <Button
      className="h-11 flex-col gap-0! px-1.5! text-tiny leading-tight"
      pressed={isAimed}
      title={`${proposalSentence(proposalOfRow(row, aimOf(target)))} (V)`}
      onClick={() => atTarget(aim, row, engine.position())}
    >
      <span>at {tempoBpm === null ? 'its tempo' : `${bpmText(tempoBpm)} BPM`}</span>
      <span>{key ? keyLabel(key) : 'its key'}</span>
    </Button>
  );
}

/** Instead of a click’s sound. */
const DRUMS = 'drum pattern';

function ClickDetails() {
  const { isOn } = useTarget();
  const click = useEngine((state) => state.click);
  return (
    <Popover className="relative ml-auto">
      <PopoverButton
        onMouseDown={keepKeysFree}
        className="inline-flex h-11 items-center gap-1.5 border border-rule-strong px-2 text-small whitespace-nowrap hover:bg-wash-ink"
      >
        <Settings2 className="size-4" aria-hidden />
        {/* The target's button takes its place. */}
        <span className={isOn ? 'sr-only' : undefined}>Details</span>
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'top end', gap: 6 }}
        className="z-20 w-80 space-y-2 border border-ink bg-paper p-3 text-small"
      >
        <div className="grid grid-cols-[6rem_1fr] items-center gap-y-2">
          <label htmlFor="click-sound">Sound</label>
          <select
            id="click-sound"
            className={fieldClass}
            value={click.drums ? DRUMS : click.sound}
            onChange={({ target: { value } }) =>
              engine.setClick(
                value === DRUMS ? { drums: true } : { drums: false, sound: value as ClickSound },
              )
            }
          >
            {CLICK_SOUNDS.map((sound) => (
              <option key={sound}>{sound}</option>
            ))}
            <option>{DRUMS}</option>
          </select>
          <label htmlFor="count-in">Count-in</label>
          <select
            id="count-in"
            className={fieldClass}
            value={click.countInBars}
            onChange={(event) => engine.setClick({ countInBars: Number(event.target.value) as 0 | 1 | 2 })}
          >
            <option value={0}>none</option>
            <option value={1}>1 bar</option>
            <option value={2}>2 bars</option>
          </select>
        </div>
        <div className="flex gap-1.5">
          <Button pressed={click.accent} onClick={() => engine.setClick({ accent: !click.accent })}>
            Accent on the one
          </Button>
        </div>
        <LatencyTest />
      </PopoverPanel>
    </Popover>
  );
}

function RoundChoice({ grid, rounds: { round, setRound, goRound, loop } }: Omit<Props, 'row'>) {
  const value = !round ? '0' : round.kind === 'bars' ? String(round.bars) : round.kind;
  return (
    <select
      className={`${fieldClass} w-24`}
      aria-label="Go round"
      value={value}
      disabled={!grid && !round}
      onChange={({ target }) => {
        if (target.value === 'loop' || target.value === 'seam') setRound({ kind: target.value });
        else goRound(Number(target.value));
      }}
    >
      {LOOP_CHOICES.map((bars) => (
        <option key={bars} value={bars}>
          {bars === 0 ? 'off' : bars === 1 ? '1 bar' : `${bars} bars`}
        </option>
      ))}
      {loop && <option value="loop">the loop</option>}
      {loop && <option value="seam">the seam</option>}
      {round?.kind === 'stretch' && <option value="stretch">the stretch</option>}
    </select>
  );
}

/** Bar, beat and time of the playhead, without rendering anew for every frame. */
function Where({ grid }: { grid: Grid | null }) {
  const bar = useRef<HTMLDivElement>(null);
  const seconds = useRef<HTMLDivElement>(null);
  usePlayhead((time) => {
    if (seconds.current) seconds.current.textContent = `${time.toFixed(3)} s`;
    if (bar.current) bar.current.textContent = grid ? barAndBeat(grid, time) : '–';
  });
  return (
    <>
      <div ref={bar} className="figures text-xl font-semibold" aria-label="Bar and beat" />
      <div ref={seconds} className="figures text-small text-ink-soft" aria-label="Time" />
    </>
  );
}

function barAndBeat(grid: Grid, time: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const position = beatPosition(grid, time) + 1e-6;
  const bar = Math.floor(position / size);
  const beat = Math.floor(position - bar * size) + 1;
  return `${bar >= 0 ? bar + 1 : `−${-bar}`} · ${beat}`;
}
