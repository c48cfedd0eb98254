'use client';
import { Play, Repeat, SkipBack, Square } from 'lucide-react';
import { useRef } from 'react';
import { beatPosition, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { CLICK_SOUNDS, type ClickSound } from '@/core/signal/clickSound';
import { player } from '../audio/player';
import { usePlayer, usePlayhead } from '../audio/usePlayer';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';

interface Props {
  grid: Grid | null;
  loopBars: number;
  onLoopBars: (bars: number) => void;
}

export const LOOP_CHOICES = [0, 1, 2, 4, 8, 16];

/** Playing, the loop, and the click: everything here changes while it sounds. */
export function Transport({ grid, loopBars, onLoopBars }: Props) {
  const { status, click, loaded, fault } = usePlayer();
  const playing = status === 'playing';
  const ready = status === 'ready' || playing;
  return (
    <div
      className="flex h-[4.5rem] shrink-0 items-center gap-3 border-t border-rule-strong bg-sheet px-3"
      role="group"
      aria-label="Transport"
    >
      <div className="flex items-center gap-1">
        <Button
          tone="strong"
          className="h-11 w-14"
          disabled={!ready}
          aria-label={playing ? 'Stop' : 'Play'}
          title={playing ? 'Stop (Space)' : 'Play (Space)'}
          onClick={() => player.toggle()}
        >
          {playing ? <Square className="size-5" /> : <Play className="size-5" />}
        </Button>
        <IconButton
          label="Play from the one (Enter)"
          disabled={!ready || !grid}
          onClick={() => void player.play(grid?.one ?? 0)}
        >
          <SkipBack />
        </IconButton>
      </div>
      <div className="w-24 leading-tight whitespace-nowrap">
        <Where grid={grid} />
        {status === 'loading' && (
          <progress className="h-1 w-full accent-trace" max={1} value={loaded} aria-label="Fetching audio" />
        )}
        {fault && <span className="text-tiny text-one">{fault}</span>}
      </div>
      <label className="flex flex-col text-tiny text-ink-soft">
        <span className="flex items-center gap-1">
          <Repeat className="size-3" aria-hidden /> Go round
        </span>
        <select
          className={fieldClass}
          value={loopBars}
          disabled={!grid}
          onChange={(event) => onLoopBars(Number(event.target.value))}
        >
          {LOOP_CHOICES.map((bars) => (
            <option key={bars} value={bars}>
              {bars === 0 ? 'off' : bars === 1 ? '1 bar' : `${bars} bars`}
            </option>
          ))}
        </select>
      </label>
      <div className="h-12 border-l border-rule" />
      <div className="flex items-end gap-1.5">
        <Button
          className="h-11"
          pressed={click.on}
          onClick={() => player.setClick({ on: !click.on })}
          title="Click on or off (C)"
        >
          Click {click.on ? 'on' : 'off'}
        </Button>
        <label className="flex flex-col text-tiny text-ink-soft">
          Level
          <input
            type="range"
            className="h-7 w-16 accent-one"
            min={0}
            max={2}
            step={0.05}
            value={click.level}
            onChange={(event) => player.setClick({ level: Number(event.target.value) })}
          />
        </label>
        <label className="flex flex-col text-tiny text-ink-soft">
          Audio – click
          <input
            type="range"
            className="h-7 w-16 accent-one"
            min={-1}
            max={1}
            step={0.05}
            value={click.balance}
            onChange={(event) => player.setClick({ balance: Number(event.target.value) })}
          />
        </label>
        <label className="flex flex-col text-tiny text-ink-soft">
          Sound
          <select
            className={fieldClass}
            value={click.sound}
            onChange={(event) => player.setClick({ sound: event.target.value as ClickSound })}
          >
            {CLICK_SOUNDS.map((sound) => (
              <option key={sound}>{sound}</option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-tiny text-ink-soft">
          Per beat
          <select
            className={fieldClass}
            value={click.subdivision}
            onChange={(event) =>
              player.setClick({ subdivision: Number(event.target.value) as 1 | 2 | 3 | 4 })
            }
          >
            <option value={1}>1</option>
            <option value={2}>2</option>
            <option value={3}>3</option>
            <option value={4}>4</option>
          </select>
        </label>
        <label className="flex flex-col text-tiny text-ink-soft">
          Count-in
          <select
            className={fieldClass}
            value={click.countInBars}
            onChange={(event) => player.setClick({ countInBars: Number(event.target.value) as 0 | 1 | 2 })}
          >
            <option value={0}>none</option>
            <option value={1}>1 bar</option>
            <option value={2}>2 bars</option>
          </select>
        </label>
        <Button pressed={click.accent} onClick={() => player.setClick({ accent: !click.accent })}>
          Accent
        </Button>
        <Button
          pressed={click.split}
          title="Audio in the left ear, click in the right one"
          onClick={() => player.setClick({ split: !click.split })}
        >
          Ears apart
        </Button>
      </div>
    </div>
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
