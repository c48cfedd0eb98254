'use client';
import { Repeat } from 'lucide-react';
import { ALL_BARS } from '@/contract/blend';
import { useEngine } from '../audio/useEngine';
import { Button } from '../kit/Button';
import { ClickControls } from '../transport/ClickControls';
import { TransportFrame } from '../transport/TransportFrame';
import { Where } from '../transport/Where';
import { NumberField } from '../kit/NumberField';
import type { BlendEditor } from './useBlend';
import type { BlendSound } from './useBlendSound';
import type { Scored } from './useScore';
import { useHint } from '../kit/shortcuts';
import { BLEND } from '../shortcuts/shortcutTables';

/** Playing, what loops, and the click. */
export function BlendTransport({
  editor,
  scored,
  sound,
}: {
  editor: BlendEditor;
  scored: Scored;
  sound: BlendSound;
}) {
  const { score } = scored;
  const hint = useHint();
  const fault = useEngine((state) => (state.sampleId === sound.id ? state.fault : null));
  const isEmpty = score.lanes.every(({ parts }) => parts.length === 0);
  return (
    <TransportFrame
      fault={fault}
      playing={sound.playing}
      ready={!isEmpty}
      onToggle={sound.toggle}
      fromStart={{ label: hint(BLEND.fromStart), ready: !isEmpty, onPress: () => sound.play(0) }}
    >
      <div className="w-24 leading-tight whitespace-nowrap">
        <Where grid={score.grid} />
        {sound.waiting && <span className="text-tiny text-ink-soft">stretching…</span>}
      </div>
      <LoopedPart editor={editor} bars={score.bars} />
      <div className="h-12 border-l border-rule" />
      <ClickControls />
    </TransportFrame>
  );
}

const WHOLE_BARS = { least: 1, whole: true, small: true, className: 'w-13 text-right' };

/** Which bars loop. */
function LoopedPart({ editor, bars }: { editor: BlendEditor; bars: number }) {
  const { round } = editor.state;
  const hint = useHint();
  const shown = { from: round?.from ?? 1, to: Math.min(round?.to ?? bars, bars) };
  const set = (patch: Partial<typeof shown>) => {
    const wanted = { ...shown, ...patch };
    const [from, to] = [wanted.from, wanted.to].map(Math.round);
    if (!(from >= 1 && to >= from)) return;
    // To the last bar is to the end, however long it becomes.
    editor.set({ round: { from, to: to >= bars ? ALL_BARS.to : to } }, `bars ${from} to ${to} loop`);
  };
  return (
    <div className="flex flex-col gap-0.5 text-tiny text-ink-soft">
      <Button
        small
        className="h-5! text-tiny!"
        pressed={round !== null}
        title={hint(BLEND.loop, 'Loop the bars')}
        onClick={() =>
          editor.set({ round: round ? null : ALL_BARS }, round ? 'play to the end' : 'loop the whole blend')
        }
      >
        <Repeat className="size-3" aria-hidden /> Loop
      </Button>
      <span className="flex items-center gap-1">
        bars{' '}
        <NumberField
          label="First bar of the loop"
          {...WHOLE_BARS}
          most={bars}
          value={shown.from}
          disabled={!round}
          onValue={(from) => set({ from })}
        />{' '}
        to{' '}
        <NumberField
          label="Last bar of the loop"
          {...WHOLE_BARS}
          most={bars}
          value={shown.to}
          disabled={!round}
          onValue={(to) => set({ to })}
        />
      </span>
    </div>
  );
}
