'use client';
import { useDraggable } from '@dnd-kit/core';
import { GripVertical, X } from 'lucide-react';
import { bpmText, keyOfRow, KIND_TEXT } from '@/words/figures';
import type { PackLine } from '@/library/packs/contents';
import { IconButton } from '../kit/IconButton';
import { RowTrace } from '../list/cells';
import type { Column } from '../list/useColumns';
import type { Aim } from '../target/useAim';
import { nameOfLine } from './packEditor';

interface Given {
  aim: Aim;
  onRemove: (line: PackLine) => void;
}

/** The columns of a pack. */
export const packColumns = ({ aim, onRemove }: Given): Column<PackLine>[] => [
  {
    ...{ id: 'place', label: '', width: '2.6rem', isFixed: true },
    cell: ({ sampleId }, index) => <Grip sampleId={sampleId} number={index + 1} />,
  },
  {
    ...{ id: 'trace', label: 'Waveform', width: '7rem' },
    cell: ({ row }) => row && <RowTrace row={row} onPlay={(from) => aim.toggle(row, from)} />,
  },
  {
    ...{ id: 'files', label: 'Files', width: 'minmax(15rem, 2.6fr)', isFixed: true },
    cell: (line) => <Files line={line} />,
  },
  {
    ...{ id: 'facts', label: 'Kind, tempo, key', width: '6.4rem' },
    className: 'figures text-tiny leading-tight',
    cell: ({ row }) =>
      row && (
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
      ),
  },
  {
    ...{ id: 'notes', label: 'Warnings', width: 'minmax(6rem, 1fr)' },
    className: 'line-clamp-2 text-tiny leading-tight text-look',
    cell: ({ fault, notes }) => (
      <span title={notes.join('\n')}>
        {fault ? <span className="text-one">{fault}</span> : notes.join('; ')}
      </span>
    ),
  },
  {
    ...{ id: 'remove', label: '', width: '1.8rem', isFixed: true },
    cell: (line) => (
      <IconButton
        label={`Remove ${nameOfLine(line)}`}
        tabIndex={-1}
        onClick={(event) => {
          event.stopPropagation();
          onRemove(line);
        }}
      >
        <X aria-hidden />
      </IconButton>
    ),
  },
];

/** What a row is dragged by, with its number. */
function Grip({ sampleId, number }: { sampleId: string; number: number }) {
  const { setNodeRef, listeners } = useDraggable({ id: sampleId });
  return (
    <span className="figures flex items-center text-ink-soft">
      <span ref={setNodeRef} {...listeners} className="cursor-grab" aria-hidden>
        <GripVertical className="size-4" />
      </span>
      {number}
    </span>
  );
}

/** The files of a sample, the name before its folder for the eye. */
function Files({ line }: { line: PackLine }) {
  const { paths } = line;
  const [main, second] = [paths?.file ?? paths?.atTarget, paths?.file ? paths.atTarget : null];
  if (!main) return <span className="text-ink-soft line-through">{nameOfLine(line)}</span>;
  const at = main.lastIndexOf('/') + 1;
  return (
    <>
      <span className="block truncate" title={main}>
        <span className="text-tiny text-ink-soft">{main.slice(0, at)}</span>
        <span className="text-base font-medium">{main.slice(at)}</span>
      </span>
      {second && <span className="block truncate text-tiny text-ink-soft">{second}</span>}
    </>
  );
}
