'use client';
import { closestCenter, DndContext, PointerSensor, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import clsx from 'clsx';
import { useMemo, type HTMLAttributes } from 'react';
import type { PackLine } from '@/library/packs/contents';
import { Button } from '../kit/Button';
import { Empty } from '../kit/States';
import { SampleList } from '../list/SampleList';
import type { Listing } from '../list/usePagedList';
import type { Aim } from '../target/useAim';
import { packColumns } from './packColumns';
import { moveLine, removeLine, type PackEditor } from './packEditor';

/** By what all of a pack are put into an order. */
const SORTS: Readonly<Record<string, (a: PackLine, b: PackLine) => number>> = {
  name: (a, b) => nameOf(a).localeCompare(nameOf(b), 'en', { numeric: true }),
  tempo: (a, b) => (a.row?.tempoBpm ?? Infinity) - (b.row?.tempoBpm ?? Infinity),
  kind: (a, b) => (a.row?.kind ?? '~').localeCompare(b.row?.kind ?? '~'),
};
const nameOf = ({ row }: PackLine) => row?.name ?? '~';

interface Props {
  editor: PackEditor;
  list: Listing<PackLine>;
  aim: Aim;
  onOpen: (sampleId: string) => void;
}

/** The samples of a pack in their order, each with the names that its files will have. */
export function PackSamples({ editor, list, aim, onOpen }: Props) {
  const { rows: lines } = list;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const columns = useMemo(
    () => packColumns({ aim, onRemove: (line) => removeLine(editor, line) }),
    [aim, editor],
  );
  const sort = (by: string) => {
    const sampleIds = [...lines].sort(SORTS[by]).map(({ sampleId }) => sampleId);
    editor.order({ do: 'sort', sampleIds }, `sorted by ${by}`);
  };
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-rule-strong px-3 text-small">
        <span className="text-ink-soft">Sort by</span>
        {Object.keys(SORTS).map((by) => (
          <Button key={by} small disabled={lines.length < 2} onClick={() => sort(by)}>
            {by}
          </Button>
        ))}
        <span className="ml-auto text-tiny text-ink-soft">
          Drag or Alt + ↑ ↓ to reorder. Delete removes. K on the Shelf adds.
        </span>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          const line = lines.find(({ sampleId }) => sampleId === active.id);
          const to = lines.findIndex(({ sampleId }) => sampleId === over?.id);
          if (line && to >= 0) moveLine(editor, line, to);
        }}
      >
        <SampleList
          name="pack"
          label="Samples of the pack"
          {...{ list, columns, onOpen }}
          rowHeight={48}
          leastWidth="min-w-[46rem]"
          Frame={DropRow}
          empty={
            <Empty>
              This pack is empty. On the Shelf, select samples and press K or “Add to pack”; on the Bench,
              press Shift + K. Exports of a blend can go straight into a pack.
            </Empty>
          }
        />
      </DndContext>
    </div>
  );
}

/** A row onto which another one can be dragged. */
function DropRow({ row, className, ...frame }: HTMLAttributes<HTMLDivElement> & { row: PackLine }) {
  const { setNodeRef, isOver, active } = useDroppable({ id: row.sampleId });
  const isDragging = active?.id === row.sampleId;
  return (
    <div
      ref={setNodeRef}
      className={clsx(
        className,
        isOver && !isDragging && 'border-t-2 border-t-ink',
        isDragging && 'opacity-50',
      )}
      {...frame}
    />
  );
}
