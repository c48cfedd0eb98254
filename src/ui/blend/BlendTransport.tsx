'use client';
import { Repeat } from 'lucide-react';
import { ALL_BARS } from '@/contract/blend';
import { useEngine } from '../audio/useEngine';
import { Button } from '../pieces/Button';
import { ClickControls } from '../transport/ClickControls';
import { TransportFrame } from '../transport/TransportFrame';
import { Where } from '../transport/Where';
import { Figure } from './LaneFields';
import type { BlendHand } from './useBlend';
import type { BlendSound } from './useBlendSound';
import type { Scored } from './useScore';

/** Playing, what goes round, and the click. */
export function BlendTransport({
  hand,
  scored,
  sound,
}: {
  hand: BlendHand;
  scored: Scored;
  sound: BlendSound;
}) {
  const { score } = scored;
  const fault = useEngine((state) => (state.sampleId === sound.id ? state.fault : null));
  const isEmpty = score.lanes.every(({ parts }) => parts.length === 0);
  return (
    <TransportFrame
      fault={fault}
      playing={sound.playing}
      ready={!isEmpty}
      onToggle={sound.toggle}
      fromStart={{ label: 'Play from bar 1 (Enter)', ready: !isEmpty, onPress: () => sound.play(0) }}
    >
      <div className="w-24 leading-tight whitespace-nowrap">
        <Where grid={score.grid} />
        {sound.waiting && <span className="text-tiny text-ink-soft">being fitted …</span>}
      </div>
      <Round hand={hand} bars={score.bars} />
      <div className="h-12 border-l border-rule" />
      <ClickControls />
    </TransportFrame>
  );
}

const WHOLE_BARS = { step: 1, decimals: 0, unit: '' };

/** Which bars go round. */
function Round({ hand, bars }: { hand: BlendHand; bars: number }) {
  const { round } = hand.state;
  const shown = { from: round?.from ?? 1, to: Math.min(round?.to ?? bars, bars) };
  const set = (patch: Partial<typeof shown>) => {
    const wanted = { ...shown, ...patch };
    const [from, to] = [wanted.from, wanted.to].map(Math.round);
    if (!(from >= 1 && to >= from)) return;
    // To the last bar is to the end, however long it becomes.
    hand.set({ round: { from, to: to >= bars ? ALL_BARS.to : to } }, `bars ${from} to ${to} go round`);
  };
  return (
    <div className="flex flex-col gap-0.5 text-tiny text-ink-soft">
      <Button
        className="h-5 px-1.5! text-tiny!"
        pressed={round !== null}
        title="Bars go round (R)"
        onClick={() =>
          hand.set({ round: round ? null : ALL_BARS }, round ? 'played to its end' : 'all goes round')
        }
      >
        <Repeat className="size-3" aria-hidden /> Go round
      </Button>
      <span className="flex items-center gap-1">
        bars{' '}
        <Figure
          label="First bar that goes round"
          value={shown.from}
          {...WHOLE_BARS}
          disabled={!round}
          onSet={(from) => set({ from })}
        />{' '}
        to{' '}
        <Figure
          label="Last bar that goes round"
          value={shown.to}
          {...WHOLE_BARS}
          disabled={!round}
          onSet={(to) => set({ to })}
        />
      </span>
    </div>
  );
}
