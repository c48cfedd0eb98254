'use client';
import { ChevronDown, Crosshair, Minus, Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import { HAND_OVERS } from '../audio/atTarget';
import { engine } from '../audio/engine';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { KeySelect } from '../kit/KeySelect';
import { NumberField } from '../kit/NumberField';
import { Popup } from '../kit/Popup';
import { Segmented } from '../kit/Segmented';
import { Select } from '../kit/Select';
import { useHint, useShortcuts } from '../kit/shortcuts';
import { Term } from '../kit/Term';
import { useTapTempo } from '../kit/useTapTempo';
import { TARGET } from '../shortcuts/shortcutTables';
import { playInHand, sampleInHand, useSampleInHand, type TempoAndKey } from './sampleInHand';
import {
  ALONG,
  setTarget,
  stepTargetKey,
  stepTargetTempo,
  TARGET_FIELD,
  TARGET_TEMPI,
  targetNow,
  typeTarget,
  useTarget,
} from './target';

/** Off, or on again as it was; where it has neither tempo nor key yet, as the sample in hand has. */
function switchTarget() {
  const now = targetNow();
  const isEmpty = now.tempoBpm === null && now.key === null;
  setTarget({ ...(isEmpty ? sampleInHand() : {}), isOn: !now.isOn });
}

const takeOver = (from: TempoAndKey | null) => from && setTarget({ ...from, isOn: true });

/** Tempo and key that everything is played at, the same on every screen; how it is played opens below. */
export function TargetControl() {
  const { isOn, key, tempoBpm } = useTarget();
  const hint = useHint();
  useShortcuts(TARGET, {
    onOff: switchTarget,
    type: typeTarget,
    fromSample: () => takeOver(sampleInHand()),
  });
  return (
    <div role="group" aria-label="Target" className="flex items-center gap-1 text-small whitespace-nowrap">
      <Button
        pressed={isOn}
        aria-label={isOn ? 'Target on' : 'Target off'}
        onClick={switchTarget}
        title={hint(TARGET.onOff, 'Play everything at one tempo and key')}
      >
        <Crosshair className="size-3.5" aria-hidden /> Target
      </Button>
      <span id={TARGET_FIELD} title={hint(TARGET.type)}>
        <NumberField
          label="Target tempo, BPM"
          unit="BPM"
          className="w-15 text-right"
          placeholder="own"
          value={tempoBpm}
          {...TARGET_TEMPI}
          onValue={(bpm) => {
            setTarget({ isOn: true, tempoBpm: bpm });
            // Whoever types a tempo wants to hear it; what sounds already changes by itself.
            if (engine.getState().status !== 'playing') playInHand();
          }}
          onEmpty={() => setTarget({ tempoBpm: null })}
        />
      </span>
      <KeySelect
        label="Target key"
        className="w-25"
        value={key}
        onChange={(next) => setTarget({ isOn: true, key: next })}
        none="own key"
      />
      <Popup
        button={<ChevronDown className="size-3.5" aria-hidden />}
        label="Target options"
        title="How the target is played"
        width="w-76"
        buttonClassName="px-1!"
      >
        <TargetOptions />
      </Popup>
    </div>
  );
}

const PITCH = ['keep', 'follow speed'] as const;
const ALONG_WORDS = { nothing: 'off', click: 'click', drums: 'drums' };

/** How the target is found and played. */
function TargetOptions() {
  const { key, isTape, handOver, along, tempoBpm } = useTarget();
  const inHand = useSampleInHand();
  const hint = useHint();
  const tap = useTapTempo(TARGET_TEMPI, (bpm) => setTarget({ isOn: true, tempoBpm: bpm }));
  return (
    <div className="grid grid-cols-[5rem_1fr] items-center gap-2 text-small">
      <p className="col-span-2 text-ink-soft">
        Everything is played at the tempo and key of the <Term of="target">target</Term>. Nothing is changed.
      </p>
      <span className="text-ink-soft">Tempo</span>
      <span className="flex items-center gap-1">
        <Steps label="tempo" by={stepTargetTempo} off={tempoBpm === null} />
        <Button onClick={(event) => tap(event.timeStamp)} title="Tap the tempo">
          Tap
        </Button>
        <Button disabled={!inHand} onClick={() => takeOver(inHand)} title={hint(TARGET.fromSample)}>
          From sample
        </Button>
      </span>
      <span className="text-ink-soft">Key</span>
      <span>
        <Steps label="key" by={stepTargetKey} off={key === null} />
      </span>
      <span className="text-ink-soft">Pitch</span>
      <Segmented
        label="Pitch"
        isBare
        value={isTape ? 'follow speed' : 'keep'}
        options={PITCH}
        onChange={(pitch) => setTarget({ isTape: pitch === 'follow speed' })}
      />
      <span className="text-ink-soft">Next on</span>
      <Segmented
        label="Next on"
        isBare
        value={handOver}
        options={HAND_OVERS}
        titles={{
          beat: 'The next sample starts on the next beat',
          bar: 'The next sample starts with the next bar',
        }}
        onChange={(at) => setTarget({ handOver: at })}
      />
      <span className="text-ink-soft">Metronome</span>
      <Select
        label="Metronome"
        className="w-28"
        value={along}
        options={ALONG}
        text={ALONG_WORDS}
        onChange={(one) => setTarget({ along: one })}
      />
    </div>
  );
}

interface StepsProps {
  label: string;
  by: (steps: number) => void;
  off: boolean;
}

function Steps({ label, by, off }: StepsProps): ReactNode {
  return (
    <>
      <IconButton label={`Lower target ${label}`} disabled={off} onClick={() => by(-1)}>
        <Minus aria-hidden />
      </IconButton>
      <IconButton label={`Higher target ${label}`} disabled={off} onClick={() => by(1)}>
        <Plus aria-hidden />
      </IconButton>
    </>
  );
}
