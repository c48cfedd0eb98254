'use client';
import {
  closestCenter,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { useState } from 'react';
import type { SampleSummary } from '@/contract/entry';
import type { BarsView } from './drawStaff';
import { wordsOfIncoming } from './incomingWords';
import { HEAD_WIDTH, STAVES } from './Staves';
import type { BlendEditor } from './useBlend';

interface Dragged {
  editor: BlendEditor;
  view: BarsView;
  /** Beats of a bar. */
  size: number;
  onPut: (row: SampleSummary, beat: number) => unknown;
}

/** Dragging on the Blend: samples onto a bar, lanes between each other. `said`: what dropping here would do. */
export function useBlendDrag({ editor, view, size, onPut }: Dragged) {
  const { state } = editor;
  const [said, setSaid] = useState<string | null>(null);
  const beatUnder = ({
    active,
    over,
    delta,
    activatorEvent,
  }: DragMoveEvent | DragEndEvent): number | null => {
    if (!active.data.current?.row || over?.id !== STAVES || !(activatorEvent instanceof MouseEvent))
      return null;
    const x = activatorEvent.clientX + delta.x - over.rect.left - HEAD_WIDTH;
    if (x < 0) return 0;
    const bar = view.from + (x / (over.rect.width - HEAD_WIDTH)) * view.bars;
    return Math.max(0, Math.floor(bar)) * size;
  };
  const onDragMove = (event: DragMoveEvent) => {
    const row = event.active.data.current?.row as SampleSummary | undefined;
    const beat = beatUnder(event);
    setSaid(
      row && beat !== null
        ? `“${row.name}” from bar ${beat / size + 1} on: ${wordsOfIncoming(row, state)}`
        : null,
    );
  };
  const onDragEnd = (event: DragEndEvent) => {
    setSaid(null);
    const row = event.active.data.current?.row as SampleSummary | undefined;
    if (row) {
      const beat = beatUnder(event);
      if (beat !== null) onPut(row, beat);
      return;
    }
    const to = state.lanes.findIndex(({ laneId }) => laneId === event.over?.id);
    const from = state.lanes.findIndex(({ laneId }) => laneId === event.active.id);
    if (to >= 0 && from >= 0 && to !== from)
      editor.order({ do: 'move', laneId: state.lanes[from].laneId, to }, `“${state.lanes[from].name}” moved`);
  };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return {
    said,
    context: {
      ...{ sensors, collisionDetection: nearest, onDragMove, onDragEnd, onDragCancel: () => setSaid(null) },
      accessibility: {
        screenReaderInstructions: {
          draggable:
            'Press Space to pick up the lane, arrow keys to move it, Space to drop it, Escape to cancel.',
        },
      },
    },
  };
}

/** What is put in goes onto the staves under the pointer; a lane goes between its neighbours. */
const nearest: CollisionDetection = (args) => {
  const isNew = args.active.data.current?.row !== undefined;
  const droppableContainers = args.droppableContainers.filter(({ id }) => (id === STAVES) === isNew);
  return (isNew ? pointerWithin : closestCenter)({ ...args, droppableContainers });
};
