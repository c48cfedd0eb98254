'use client';
import {
  closestCenter,
  DndContext,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import clsx from 'clsx';
import { GripVertical, X } from 'lucide-react';
import type { PackLine } from '@/library/packs/contents';
import { Button } from '../pieces/Button';
import { bpmText, keyOfRow, KIND_TEXT } from '../pieces/figures';
import { IconButton } from '../pieces/IconButton';
import { rowGestures, rowGround, rowId } from '../pieces/rowGestures';
import { VirtualRows } from '../pieces/VirtualRows';
import type { Aim } from '../target/useAim';
import { Thumbnail } from '../trace/Thumbnail';
import { moveLine, takeOut, type PackHand } from './packHand';
import type { PackedList } from './usePackKeys';

const ROW_HEIGHT = 48;
const COLUMNS =
  'grid grid-cols-[2.6rem_7rem_minmax(15rem,2.6fr)_6.4rem_minmax(6rem,1fr)_1.8rem] gap-x-3 px-3';

/** By what all of a pack are put into an order. */
const SORTS: Readonly<Record<string, (a: PackLine, b: PackLine) => number>> = {
  name: (a, b) => words(a).localeCompare(words(b), 'en', { numeric: true }),
  tempo: (a, b) => (a.row?.tempoBpm ?? Infinity) - (b.row?.tempoBpm ?? Infinity),
  kind: (a, b) => (a.row?.kind ?? '~').localeCompare(b.row?.kind ?? '~'),
};
const words = ({ row }: PackLine) => row?.name ?? '~';

interface Props {
  hand: PackHand;
  lines: readonly PackLine[];
  list: PackedList;
  aim: Aim;
  onOpen: (sampleId: string) => void;
}

/** The samples of a pack in their order, each with the names that its files will have. */
export function PackLines({ hand, lines, list, aim, onOpen }: Props) {
  const { selected, moves, held, setSelected } = list;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const sort = (by: string) => {
    const sampleIds = [...lines].sort(SORTS[by]).map(({ sampleId }) => sampleId);
    hand.order({ do: 'sort', sampleIds }, `put in order by ${by}`);
  };
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-rule-strong px-3 text-small">
        <span className="text-ink-soft">put in order by</span>
        {Object.keys(SORTS).map((by) => (
          <Button key={by} className="h-6" disabled={lines.length < 2} onClick={() => sort(by)}>
            {by}
          </Button>
        ))}
        <span className="ml-auto text-tiny text-ink-soft">
          Dragged, or Alt + ↑ ↓: another place. Delete takes out. K on the Shelf puts in.
        </span>
      </div>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          const line = lines.find(({ sampleId }) => sampleId === active.id);
          const to = lines.findIndex(({ sampleId }) => sampleId === over?.id);
          if (line && to >= 0) moveLine(hand, line, to);
        }}
      >
        <div
          role={lines.length > 0 ? 'grid' : 'group'}
          aria-label="Samples of the pack"
          aria-rowcount={lines.length > 0 ? lines.length : undefined}
          aria-activedescendant={held && selected >= 0 ? rowId(held.sampleId) : undefined}
          className="flex min-h-0 flex-1 flex-col overflow-x-auto"
        >
          <VirtualRows
            className="min-h-0 min-w-[46rem] flex-1 overflow-y-auto"
            label="Rows of the pack"
            count={lines.length}
            rowHeight={ROW_HEIGHT}
            cursor={selected}
            moves={moves}
            keyOf={(index) => lines[index]?.sampleId}
            row={(index) => (
              <Line
                line={lines[index]}
                index={index}
                selected={index === selected}
                aim={aim}
                onSelect={setSelected}
                onOpen={onOpen}
                onTake={() => takeOut(hand, lines[index])}
              />
            )}
          >
            {lines.length === 0 && (
              <p className="mx-auto max-w-md p-12 text-center text-ink-soft">
                Nothing is in this pack yet. On the Shelf choose samples and press K, or “Into the pack” below
                them; on the Bench it is Shift + K. What comes out of a Blend can go straight in.
              </p>
            )}
          </VirtualRows>
        </div>
      </DndContext>
    </div>
  );
}

interface LineProps {
  line: PackLine;
  index: number;
  selected: boolean;
  aim: Aim;
  onSelect: (index: number) => void;
  onOpen: (sampleId: string) => void;
  onTake: () => void;
}

function Line({ line, index, selected, aim, onSelect, onOpen, onTake }: LineProps) {
  const { sampleId, row, paths, fault, notes } = line;
  const name = row?.name ?? 'a sample that is gone';
  const { setNodeRef: setDrop, isOver } = useDroppable({ id: sampleId });
  const { setNodeRef: setDrag, listeners, isDragging } = useDraggable({ id: sampleId });
  const [main, second] = [paths?.file ?? paths?.atTarget, paths?.file ? paths.atTarget : null];
  return (
    <div
      ref={setDrop}
      role="row"
      aria-rowindex={index + 1}
      aria-selected={selected}
      {...rowGestures({ sampleId, index, onSelect, onOpen })}
      className={clsx(
        COLUMNS,
        'h-12 items-center border-b border-rule text-small',
        rowGround(selected, false),
        isOver && !isDragging && 'border-t-2 border-t-ink',
        isDragging && 'opacity-50',
      )}
    >
      <div role="gridcell" className="figures flex items-center text-ink-soft">
        <span ref={setDrag} {...listeners} className="cursor-grab" aria-hidden>
          <GripVertical className="size-4" />
        </span>
        {index + 1}
      </div>
      <div role="gridcell">
        {row && (
          <Thumbnail
            sampleId={sampleId}
            thumbnail={row.thumbnail}
            durationSeconds={row.durationSeconds}
            name={row.name}
            onPlay={(from) => aim.toggle(row, from)}
          />
        )}
      </div>
      <div role="gridcell" className="min-w-0">
        {main ? <Path path={main} /> : <span className="text-ink-soft line-through">{name}</span>}
        {second && <span className="block truncate text-tiny text-ink-soft">{second}</span>}
      </div>
      <div role="gridcell" className="figures text-tiny leading-tight">
        {row && (
          <>
            {row.kind && KIND_TEXT[row.kind]}
            {row.tempoBpm !== null && row.kind !== 'oneshot' && (
              <>
                {' '}
                <b className="font-semibold">{bpmText(row.tempoBpm)}</b>
              </>
            )}
            <span className="block text-ink-soft">{keyOfRow(row) ?? 'no key'}</span>
          </>
        )}
      </div>
      <div
        role="gridcell"
        className="line-clamp-2 text-tiny leading-tight text-look"
        title={notes.join('\n')}
      >
        {fault ? <span className="text-one">{fault}</span> : notes.join('; ')}
      </div>
      <div role="gridcell">
        <IconButton
          label={`Take ${name} out`}
          tabIndex={-1}
          onClick={(event) => {
            event.stopPropagation();
            onTake();
          }}
        >
          <X aria-hidden />
        </IconButton>
      </div>
    </div>
  );
}

/** A path with its name before its folder, for the eye. */
function Path({ path }: { path: string }) {
  const at = path.lastIndexOf('/') + 1;
  return (
    <span className="block truncate" title={path}>
      <span className="text-tiny text-ink-soft">{path.slice(0, at)}</span>
      <span className="text-base font-medium">{path.slice(at)}</span>
    </span>
  );
}
