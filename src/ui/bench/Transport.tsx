'use client';
import { memo } from 'react';
import { proposalOfRow } from '@/library/samples/aims';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import type { Grid } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';
import { SPEEDS, type EngineState } from '../audio/engineState';
import { useEngine } from '../audio/useEngine';
import { Button } from '../kit/Button';
import { barsText, bpmText } from '@/words/figures';
import { proposalSentence } from '../target/proposalWords';
import { aimOf, useTarget } from '../target/target';
import { atTarget, useAim } from '../target/useAim';
import { ClickControls } from '../transport/ClickControls';
import { TransportFrame } from '../transport/TransportFrame';
import { Where } from '../transport/Where';
import type { Looping } from './useLooping';
import { Progress } from '../kit/Progress';
import { Select } from '../kit/Select';
import { useHint } from '../kit/shortcuts';
import { PLAYBACK } from '../shortcuts/shortcutTables';

interface Props {
  grid: Grid | null;
  looping: Looping;
  row: SampleSummary;
}

const everything = (state: EngineState) => state;

export const LOOP_CHOICES = [0, 1, 2, 4, 8, 16];

/** Playback, loop and click: everything here can be changed while it plays. */
export const Transport = memo(function Transport({ grid, looping, row }: Props) {
  const { status, loaded, fault, speed } = useEngine(everything);
  const hint = useHint();
  const playing = status === 'playing';
  const ready = status === 'ready' || playing;
  return (
    <TransportFrame
      fault={fault}
      playing={playing}
      ready={ready}
      onToggle={() => engine.toggle()}
      fromStart={{
        label: hint(PLAYBACK.fromOne),
        ready: ready && grid !== null,
        onPress: () => void engine.play(grid?.one ?? 0),
      }}
    >
      <div className="w-24 leading-tight whitespace-nowrap">
        <Where grid={grid} />
        {status !== 'empty' && loaded < 1 && <Progress label="Loading audio" value={loaded} />}
      </div>
      <LoopChoice grid={grid} looping={looping} />
      <Select
        label="Speed"
        place="above"
        title={hint(PLAYBACK.speed, 'Playback speed, pitch kept')}
        value={speed}
        options={SPEEDS}
        text={(one) => `${100 * one} %`}
        onChange={(one) => engine.setSpeed(one)}
      />
      <AtTarget row={row} />
      <div className="h-12 border-l border-rule" />
      <ClickControls />
    </TransportFrame>
  );
});

/** Hears the sample at the tempo and key of the target; Space hears it as it was recorded again. */
function AtTarget({ row }: Pick<Props, 'row'>) {
  const target = useTarget();
  const aim = useAim({ hasClick: true });
  const isAimed = useEngine((state) => state.status === 'playing' && engine.atTarget.includes(row.sampleId));
  const hint = useHint();
  if (!target.isOn) return null;
  const { tempoBpm, key } = target;
  return (
    <Button
      className="h-11 flex-col gap-0! px-1.5! text-tiny leading-tight"
      pressed={isAimed}
      title={hint(PLAYBACK.atTarget, proposalSentence(proposalOfRow(row, aimOf(target)), row.tempoBpm))}
      onClick={() => atTarget(aim, row, engine.position())}
    >
      <span>at {tempoBpm === null ? 'its tempo' : `${bpmText(tempoBpm)} BPM`}</span>
      <span>{key ? keyLabel(key) : 'its key'}</span>
    </Button>
  );
}

const LOOP_WORDS = { loop: 'sample’s loop', seam: 'seam', stretch: 'selection' };

function LoopChoice({ grid, looping: { looped, setLooped, loopBars, loop } }: Omit<Props, 'row'>) {
  const value = !looped ? 0 : looped.kind === 'bars' ? looped.bars : looped.kind;
  return (
    <Select
      label="Loop"
      place="above"
      className="w-[5.4rem]"
      disabled={!grid && !looped}
      value={value}
      options={[
        ...LOOP_CHOICES,
        ...(loop ? (['loop', 'seam'] as const) : []),
        ...(looped?.kind === 'stretch' ? (['stretch'] as const) : []),
      ]}
      text={(one) => (typeof one === 'number' ? (one === 0 ? 'off' : barsText(one)) : LOOP_WORDS[one])}
      onChange={(one) => {
        if (typeof one === 'number') loopBars(one);
        else if (one !== 'stretch') setLooped({ kind: one });
      }}
    />
  );
}
