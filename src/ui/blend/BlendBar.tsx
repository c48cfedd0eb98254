'use client';
import { ZoomIn, ZoomOut } from 'lucide-react';
import { rhythmAndMelody } from '@/library/blend/roles';
import { Button } from '../pieces/Button';
import { IconButton } from '../pieces/IconButton';
import type { BarsView } from './drawStaff';
import type { BlendHand } from './useBlend';

/** The rhythm of one lane and the melody of another, in one press. */
export function Roles({ hand, inHand }: { hand: BlendHand; inHand: string }) {
  const { lanes } = hand.state;
  const here = lanes.find(({ laneId }) => laneId === inHand);
  if (!here) return null;
  return (
    <label className="flex items-center gap-1.5 text-tiny text-ink-soft">
      rhythm of “{here.name.slice(0, 24)}”, melody of
      <select
        aria-label="Melody of"
        className="h-6 border border-rule-strong bg-sheet px-1"
        value=""
        onChange={({ target: { value } }) => {
          const other = lanes.find(({ laneId }) => laneId === value);
          if (other)
            hand.order(
              rhythmAndMelody(hand.state, inHand, value),
              `rhythm of “${here.name}”, melody of “${other.name}”`,
            );
        }}
      >
        <option value="">…</option>
        {lanes
          .filter(({ laneId }) => laneId !== inHand)
          .map(({ laneId, name }) => (
            <option key={laneId} value={laneId}>
              {name}
            </option>
          ))}
      </select>
    </label>
  );
}

/** Fewer bars, more of them, and on along the ruler. */
export function Zoom({
  view,
  bars,
  onView,
}: {
  view: BarsView;
  bars: number;
  onView: (view: BarsView | null) => void;
}) {
  const to = (from: number, count: number) => {
    const next = Math.max(2, Math.min(bars, count));
    onView(next >= bars ? null : { from: Math.max(0, Math.min(bars - next, from)), bars: next });
  };
  return (
    <>
      {view.bars < bars && (
        <>
          <Button
            className="h-6 px-1.5!"
            aria-label="Earlier bars"
            disabled={view.from <= 0}
            onClick={() => to(view.from - view.bars / 2, view.bars)}
          >
            ‹
          </Button>
          <Button
            className="h-6 px-1.5!"
            aria-label="Later bars"
            disabled={view.from + view.bars >= bars}
            onClick={() => to(view.from + view.bars / 2, view.bars)}
          >
            ›
          </Button>
        </>
      )}
      <IconButton
        className="size-6!"
        label="More bars"
        onClick={() => to(view.from - view.bars / 2, view.bars * 2)}
      >
        <ZoomOut aria-hidden />
      </IconButton>
      <IconButton
        className="size-6!"
        label="Fewer bars"
        onClick={() => to(view.from, Math.ceil(view.bars / 2))}
      >
        <ZoomIn aria-hidden />
      </IconButton>
    </>
  );
}
