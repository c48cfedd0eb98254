'use client';
import { Minus, Plus } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { Key } from '@/core/harmony/keyNames';
import { estimateTaps } from '@/core/rhythm/taps';
import { HAND_OVERS } from '../audio/atTarget';
import { Button } from '../pieces/Button';
import { fieldClass, TextField } from '../pieces/Field';
import { bpmText } from '../pieces/figures';
import { IconButton } from '../pieces/IconButton';
import { KeySelect } from '../pieces/KeySelect';
import { character, key as pressed, type KeyAction } from '../shell/keys';
import { ALONG, setTarget, TARGET_TEMPI, targetNow, useTarget } from './target';

/** Sharps and flats of one step, both modes. */
function stepKey(by: number) {
  const { key } = targetNow();
  if (key) setTarget({ isOn: true, key: { ...key, tonic: (key.tonic + by + 12) % 12 } });
}

function stepTempo(by: number) {
  const { tempoBpm } = targetNow();
  if (tempoBpm === null) return;
  const next = Math.round((tempoBpm + by) * 1000) / 1000;
  setTarget({ isOn: true, tempoBpm: Math.max(TARGET_TEMPI.least, Math.min(TARGET_TEMPI.most, next)) });
}

/** Off, or on again as it was; with nothing to aim at yet, as `first` is. */
function switchTarget(first?: { tempoBpm: number | null; key: Key | null }) {
  const now = targetNow();
  const isEmpty = now.tempoBpm === null && now.key === null;
  setTarget({ ...(isEmpty ? first : {}), isOn: !now.isOn });
}

/** Keys of the target, the same on each screen that has it. `thisOne`: tempo and key of the sample in hand. */
export function targetKeys(thisOne: () => { tempoBpm: number | null; key: Key | null } | null): KeyAction[] {
  const group = 'Target';
  return [
    {
      ...{ keys: 'T', does: 'Target on or off', group, matches: character('t') },
      run: () => switchTarget(thisOne() ?? undefined),
    },
    {
      ...{ keys: 'A', does: 'Play all at this one’s tempo and key', group, matches: character('a') },
      run: () => {
        const one = thisOne();
        if (one) setTarget({ ...one, isOn: true });
      },
    },
    { keys: '+', does: 'Target 1 BPM faster', group, matches: character('+'), run: () => stepTempo(1) },
    { keys: '−', does: 'Target 1 BPM slower', group, matches: character('-'), run: () => stepTempo(-1) },
    {
      ...{ keys: '→', does: 'Target a semitone higher', group, matches: pressed('ArrowRight') },
      run: () => stepKey(1),
    },
    {
      ...{ keys: '←', does: 'Target a semitone lower', group, matches: pressed('ArrowLeft') },
      run: () => stepKey(-1),
    },
  ];
}

const ALONG_WORDS: Readonly<Record<(typeof ALONG)[number], string>> = {
  nothing: 'no click',
  click: 'click',
  drums: 'drums',
};

/** Tempo and key that everything is played at, and how. `thisOne`: those of the sample in hand. */
export function TargetBar({ thisOne }: { thisOne: { tempoBpm: number | null; key: Key | null } | null }) {
  const target = useTarget();
  const { isOn, key, isTape, handOver, along } = target;
  return (
    <div
      role="group"
      aria-label="Target"
      className="flex min-h-11 shrink-0 flex-wrap items-center justify-between gap-2 border-b border-rule-strong bg-sheet px-4 text-small whitespace-nowrap"
    >
      <Button
        pressed={isOn}
        onClick={() => switchTarget(thisOne ?? undefined)}
        title="Play everything at one tempo and key (T)"
      >
        Target {isOn ? 'on' : 'off'}
      </Button>
      <TempoField />
      <Stepped label="key" by={stepKey} off={key === null}>
        <KeySelect
          label="Target key"
          className="w-30"
          value={key}
          onChange={(chosen) => setTarget({ isOn: true, key: chosen })}
          none="its own key"
        />
      </Stepped>
      <Choice
        label="Pitch"
        value={isTape ? 'tape' : 'held'}
        of={['held', 'tape']}
        titles={{ held: 'Tempo and pitch by themselves', tape: 'Pitch follows speed, as a tape’s does' }}
        onChoose={(way) => setTarget({ isTape: way === 'tape' })}
      />
      <Choice
        label="Next on"
        value={handOver}
        of={HAND_OVERS}
        titles={{
          beat: 'The next one begins on the next beat',
          bar: 'The next one begins with the next bar',
        }}
        onChoose={(at) => setTarget({ handOver: at })}
      />
      <label className="flex items-center gap-1.5">
        <span className="text-ink-soft">with</span>
        <select
          aria-label="What runs along"
          className={fieldClass}
          value={along}
          onChange={(event) => setTarget({ along: event.target.value as (typeof ALONG)[number] })}
        >
          {ALONG.map((one) => (
            <option key={one} value={one}>
              {ALONG_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
      <Button
        disabled={!thisOne || (thisOne.tempoBpm === null && thisOne.key === null)}
        onClick={() => thisOne && setTarget({ ...thisOne, isOn: true })}
        title="Play all at this one’s tempo and key (A)"
      >
        As this one
      </Button>
    </div>
  );
}

function TempoField() {
  const { tempoBpm } = useTarget();
  const [text, setText] = useState(tempoBpm === null ? '' : bpmText(tempoBpm));
  const [shown, setShown] = useState(tempoBpm);
  const [taps, setTaps] = useState<readonly number[]>([]);
  if (shown !== tempoBpm) {
    setShown(tempoBpm);
    if (numberIn(text) !== tempoBpm) setText(tempoBpm === null ? '' : bpmText(tempoBpm));
  }
  const isWithin = (bpm: number) => bpm >= TARGET_TEMPI.least && bpm <= TARGET_TEMPI.most;
  const isBad = text.trim() !== '' && !isWithin(numberIn(text) ?? NaN);
  const tap = (at: number) => {
    const times = [...taps, at / 1000].slice(-32);
    setTaps(times);
    const found = estimateTaps(times);
    if (found && isWithin(found.bpm)) setTarget({ isOn: true, tempoBpm: Math.round(found.bpm * 10) / 10 });
  };
  return (
    <div className="flex items-center gap-1">
      <Stepped label="tempo" by={stepTempo} off={tempoBpm === null}>
        <TextField
          aria-label="Target tempo, BPM"
          aria-invalid={isBad}
          title={isBad ? `${TARGET_TEMPI.least} to ${TARGET_TEMPI.most} BPM` : undefined}
          inputMode="decimal"
          placeholder="own"
          className="figures w-18 text-right"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            const bpm = numberIn(event.target.value);
            if (event.target.value.trim() === '') setTarget({ tempoBpm: null });
            else if (bpm !== null && isWithin(bpm)) setTarget({ isOn: true, tempoBpm: bpm });
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
            if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
            event.preventDefault();
            stepTempo((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 0.1 : 1));
          }}
        />
      </Stepped>
      <span className="text-ink-soft">BPM</span>
      <Button onClick={(event) => tap(event.timeStamp)} title="Tap the tempo">
        Tap
      </Button>
    </div>
  );
}

/** A number as it is typed; null for what is none. */
function numberIn(text: string): number | null {
  const number = Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(number) ? number : null;
}

function Stepped({
  label,
  by,
  off,
  children,
}: {
  label: string;
  by: (steps: number) => void;
  off: boolean;
  children: ReactNode;
}) {
  return (
    <span className="flex items-center">
      <IconButton label={`Lower target ${label}`} disabled={off} onClick={() => by(-1)}>
        <Minus aria-hidden />
      </IconButton>
      {children}
      <IconButton label={`Higher target ${label}`} disabled={off} onClick={() => by(1)}>
        <Plus aria-hidden />
      </IconButton>
    </span>
  );
}

function Choice<Value extends string>({
  label,
  value,
  of,
  titles,
  onChoose,
}: {
  label: string;
  value: Value;
  of: readonly Value[];
  titles: Readonly<Record<Value, string>>;
  onChoose: (value: Value) => void;
}) {
  return (
    <span role="radiogroup" aria-label={label} className="flex items-center">
      <span className="mr-1.5 text-ink-soft">{label}</span>
      {of.map((one) => (
        <Button
          key={one}
          role="radio"
          aria-checked={one === value}
          className="-ml-px first-of-type:ml-0"
          pressed={one === value}
          title={titles[one]}
          onClick={() => onChoose(one)}
        >
          {one}
        </Button>
      ))}
    </span>
  );
}
