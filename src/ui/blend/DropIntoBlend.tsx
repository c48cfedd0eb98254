'use client';
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState, type HTMLAttributes, type ReactNode } from 'react';
import type { SampleSummary } from '@/contract/entry';
import { emptyBlend } from '@/contract/blend';
import { BLENDS } from '../api/blends';
import { documentNow } from '../documents/sendChange';
import { lastOf } from '../documents/last';
import { wordsOfIncoming } from './incomingWords';
import { usePutIntoBlend } from './putIntoBlend';

const BLEND = 'to the blend';

/** Rows inside can be dragged into the blend: where they are let go shows while one is dragged. */
export function DropIntoBlend({ children }: { children: ReactNode }) {
  const put = usePutIntoBlend();
  const [dragged, setDragged] = useState<SampleSummary | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const onDragEnd = ({ over, active }: DragEndEvent) => {
    setDragged(null);
    if (over?.id === BLEND) put([(active.data.current!.row as SampleSummary).sampleId]);
  };
  return (
    <DndContext
      sensors={sensors}
      onDragStart={({ active }) => setDragged(active.data.current!.row as SampleSummary)}
      onDragEnd={onDragEnd}
      onDragCancel={() => setDragged(null)}
    >
      {children}
      {dragged && <Strip row={dragged} />}
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="border border-ink bg-paper px-2 py-1 text-small font-semibold whitespace-nowrap">
            {dragged.name}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** Where it is let go, and what would change to what. */
function Strip({ row }: { row: SampleSummary }) {
  const { setNodeRef, isOver } = useDroppable({ id: BLEND });
  const last = lastOf('blend');
  const { data } = useQuery({
    queryKey: ['blend', last],
    queryFn: ({ signal }) => documentNow(BLENDS, last!, signal),
    enabled: last !== null,
    retry: false,
  });
  const into = data ? `to “${data.state.name}”` : 'to a new blend';
  const words = wordsOfIncoming(row, data?.state ?? emptyBlend('new'));
  return (
    <div
      ref={setNodeRef}
      className={clsx(
        'absolute inset-x-0 bottom-0 z-20 border-t-2 border-ink p-3 text-center',
        isOver ? 'bg-wash-good font-semibold' : 'bg-paper',
      )}
    >
      drop here to add it {into}
      <span className="block text-small font-normal">{words}</span>
    </div>
  );
}

/** A row that can be dragged. */
export function DraggedRow({ row, ...frame }: HTMLAttributes<HTMLDivElement> & { row: SampleSummary }) {
  const { setNodeRef, listeners } = useDraggable({ id: `row ${row.sampleId}`, data: { row } });
  return <div ref={setNodeRef} {...listeners} {...frame} />;
}
