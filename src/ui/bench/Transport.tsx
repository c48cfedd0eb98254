'use client';
import { Repeat } from 'lucide-react';
import { memo, useMemo } from 'react';
import { proposalOfRow } from '@/library/samples/aims';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import type { Grid } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';
import { SPEEDS, type EngineState, type Speed } from '../audio/engineState';
import { useEngine } from '../audio/useEngine';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { bpmText } from '../pieces/figures';
import { character, useKeys } from '../shell/keys';
import { proposalSentence } from '../target/proposalWords';
import { aimOf, useTarget } from '../target/target';
import { atTarget, useAim } from '../target/useAim';
import { ClickControls } from '../transport/ClickControls';
import { TransportFrame } from '../transport/TransportFrame';
import { Where } from '../transport/Where';
import type { Rounds } from './useRound';

interface Props {
  grid: Grid | null;
  rounds: Rounds;
  row: SampleSummary;
}

const everything = (state: EngineState) => state;

export const LOOP_CHOICES = [0, 1, 2, 4, 8, 16];

/** Playing, what goes round, and the click: everything here changes while it sounds. */
export const Transport = memo(function Transport({ grid, rounds, row }: Props) {
  const { status, loaded, fault, speed } = useEngine(everything);
  const playing = status === 'playing';
  const ready = status === 'ready' || playing;
  return (
    <TransportFrame
      fault={fault}
      playing={playing}
      ready={ready}
      onToggle={() => engine.toggle()}
      fromStart={{
        label: 'Play from the one (Enter)',
        ready: ready && grid !== null,
        onPress: () => void engine.play(grid?.one ?? 0),
      }}
    >
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
      <ClickControls />
    </TransportFrame>
  );
});

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
