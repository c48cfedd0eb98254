'use client';
import { ZoomIn, ZoomOut } from 'lucide-react';
import { rhythmAndMelody } from '@/library/blend/roles';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import type { BarsView } from './drawStaff';
import type { BlendEditor } from './useBlend';
import { Select } from '../kit/Select';

/** The rhythm of one lane and the melody of another, in one press. */
export function Roles({ editor, selectedLane }: { editor: BlendEditor; selectedLane: string }) {
  const { lanes } = editor.state;
  const here = lanes.find(({ laneId }) => laneId === selectedLane);
  if (!here) return null;
  const nameOf = (id: string) => lanes.find(({ laneId }) => laneId === id)?.name ?? '';
  return (
    <span className="flex items-center gap-1.5 text-tiny text-ink-soft">
      Rhythm from “{here.name.slice(0, 24)}”, melody from
      <Select
        label="Melody from"
        small
        placeholder="…"
        value={undefined}
        options={lanes.filter(({ laneId }) => laneId !== selectedLane).map(({ laneId }) => laneId)}
        text={nameOf}
        onChange={(laneId) =>
          editor.order(
            rhythmAndMelody(editor.state, selectedLane, laneId),
            `rhythm from “${here.name}”, melody from “${nameOf(laneId)}”`,
          )
        }
      />
    </span>
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
            small
            aria-label="Earlier bars"
            disabled={view.from <= 0}
            onClick={() => to(view.from - view.bars / 2, view.bars)}
          >
            ‹
          </Button>
          <Button
            small
            aria-label="Later bars"
            disabled={view.from + view.bars >= bars}
            onClick={() => to(view.from + view.bars / 2, view.bars)}
          >
            ›
          </Button>
        </>
      )}
      <IconButton small label="More bars" onClick={() => to(view.from - view.bars / 2, view.bars * 2)}>
        <ZoomOut aria-hidden />
      </IconButton>
      <IconButton small label="Fewer bars" onClick={() => to(view.from, Math.ceil(view.bars / 2))}>
        <ZoomIn aria-hidden />
      </IconButton>
    </>
  );
}
