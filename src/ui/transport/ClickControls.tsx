'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Settings2 } from 'lucide-react';
import { CLICK_SOUNDS, type ClickSound } from '@/core/playing/clickSound';
import type { ClickPace } from '@/core/playing/click';
import { engine } from '../audio/engine';
import { useEngine } from '../audio/useEngine';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { useTarget } from '../target/target';
import { LatencyTest } from './LatencyTest';

const PACES: { name: string; pace: ClickPace['pace']; subdivision: ClickPace['subdivision'] }[] = [
  { name: 'half time', pace: 0.5, subdivision: 1 },
  { name: 'every beat', pace: 1, subdivision: 1 },
  { name: 'eighths', pace: 1, subdivision: 2 },
  { name: 'triplets', pace: 1, subdivision: 3 },
  { name: 'sixteenths', pace: 1, subdivision: 4 },
  { name: 'double time', pace: 2, subdivision: 1 },
];

/** The click beside what sounds: everything here changes while it is heard. */
export function ClickControls() {
  const click = useEngine((state) => state.click);
  const solo = useEngine((state) => state.solo);
  const pace = PACES.findIndex((one) => one.pace === click.pace && one.subdivision === click.subdivision);
  return (
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
  );
}

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
