'use client';
import { Settings2 } from 'lucide-react';
import { CLICK_SOUNDS, type ClickSound } from '@/core/playing/clickSound';
import type { ClickPace } from '@/core/playing/click';
import { engine } from '../audio/engine';
import { useEngine } from '../audio/useEngine';
import { Button } from '../kit/Button';
import { useTarget } from '../target/target';
import { LatencyTest } from './LatencyTest';
import { barsText } from '@/words/figures';
import { Popup } from '../kit/Popup';
import { Select } from '../kit/Select';
import { Slider } from '../kit/Slider';

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
        className="h-11 w-[4.6rem] px-1!"
        pressed={click.on}
        onClick={() => engine.setClick({ on: !click.on })}
        title="Click on / off (C); hold Z for click only, X for audio only"
      >
        {solo === 'click'
          ? 'Click only'
          : solo === 'audio'
            ? 'Audio only'
            : `Click ${click.on ? 'on' : 'off'}`}
      </Button>
      <Select
        label="Click on"
        place="above"
        value={pace}
        options={PACES.map((_, i) => i)}
        text={(i) => PACES[i]?.name ?? ''}
        onChange={(i) => engine.setClick({ pace: PACES[i].pace, subdivision: PACES[i].subdivision })}
      />
      <Slider
        label="Level"
        title="Click level"
        className="h-7! w-12"
        min={0}
        max={2}
        value={click.level}
        onValue={(level) => engine.setClick({ level })}
      />
      <Slider
        label="Balance"
        title="Balance between audio (left) and click (right)"
        className="h-7! w-12"
        min={-1}
        max={1}
        value={click.balance}
        onValue={(balance) => engine.setClick({ balance })}
      />
      <Button
        className="h-7 px-2"
        pressed={click.split}
        title="Audio on the left, click on the right"
        onClick={() => engine.setClick({ split: !click.split })}
      >
        Split L / R
      </Button>
      <ClickDetails />
    </div>
  );
}

/** Instead of the sound of a click. */
const DRUMS = 'drum pattern';

/** Settings of the click that are seldom changed. */
function ClickDetails() {
  const { isOn } = useTarget();
  const click = useEngine((state) => state.click);
  return (
    <Popup
      className="ml-auto"
      to="top end"
      buttonClassName="h-11! px-2!"
      button={
        <>
          <Settings2 className="size-4" aria-hidden />
          {/* The target's button takes its place. */}
          <span className={isOn ? 'sr-only' : undefined}>Details</span>
        </>
      }
      width="w-80"
    >
      <Select
        label="Sound"
        place="column"
        className="flex-1"
        value={click.drums ? DRUMS : click.sound}
        options={[...CLICK_SOUNDS, DRUMS]}
        onChange={(sound) =>
          engine.setClick(sound === DRUMS ? { drums: true } : { drums: false, sound: sound as ClickSound })
        }
      />
      <Select
        label="Count-in"
        place="column"
        className="flex-1"
        value={click.countInBars}
        options={[0, 1, 2] as const}
        text={(bars) => (bars === 0 ? 'none' : barsText(bars))}
        onChange={(countInBars) => engine.setClick({ countInBars })}
      />
      <Button pressed={click.accent} onClick={() => engine.setClick({ accent: !click.accent })}>
        Accent on the one
      </Button>
      <LatencyTest />
    </Popup>
  );
}
