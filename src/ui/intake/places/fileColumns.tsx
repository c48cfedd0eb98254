'use client';
import { useQuery } from '@tanstack/react-query';
import { Check } from 'lucide-react';
import { lengthText, sizeText } from '@/words/figures';
import { proposalOfMeasurement } from '@/library/samples/aims';
import type { Target } from '@/core/timeStretch/proposal';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import type { PlaceFolder } from '@/contract/places';
import { peekInto } from '../../api/places';
import { Button } from '../../kit/Button';
import { Checkbox } from '../../kit/Checkbox';
import { RowTrace } from '../../list/cells';
import type { Column } from '../../list/useColumns';
import type { Selection } from '../../list/useSelection';
import { keyBecomes } from '../../target/Becomes';
import { useHeard } from '../../target/heardOf';
import { proposalSentence, tempoBecomes } from '../../target/proposalWords';

/** A file of a folder; `sampleId` is what the player knows it by. */
export type FileRow = PlaceFolder['files'][number] & { placeId: number; path: string; sampleId: string };

/** What can be said of a file before it is imported. */
const usePeek = ({ placeId, path, byteLength, modifiedMs }: FileRow) =>
  useQuery({
    queryKey: ['peek', placeId, path, byteLength, modifiedMs],
    queryFn: ({ signal }) => peekInto(placeId, path, signal),
    staleTime: Infinity,
  }).data;

interface Given {
  selection: Selection<FileRow>;
  onTake: (file: FileRow) => void;
  /** What is played at; null while it is off. */
  target: Target | null;
}

/** The columns of a folder. */
export const fileColumns = ({ selection, onTake, target }: Given): Column<FileRow>[] => [
  {
    ...{ id: 'select', label: '', width: '1.25rem', isFixed: true },
    cell: (file) => (
      <Checkbox
        isBare
        label={`Select ${file.name}`}
        value={selection.has(file.sampleId)}
        onValue={() => selection.toggle(file)}
      />
    ),
  },
  {
    id: 'trace',
    label: 'Waveform',
    width: target ? '6.5rem' : '9rem',
    cell: (file) => <FileTrace file={file} />,
  },
  {
    ...{ id: 'name', label: 'Name', width: 'minmax(10rem, 1fr)', isFixed: true },
    cell: (file) => <FileName file={file} />,
  },
  {
    ...{ id: 'length', label: 'Length', width: '5rem', isRight: true },
    cell: (file) => <FileLength file={file} />,
  },
  {
    ...{ id: 'size', label: 'Size', width: '4rem', isRight: true, className: 'text-ink-soft' },
    cell: ({ byteLength }) => sizeText(byteLength),
  },
  {
    ...{ id: 'tempo', label: 'BPM by name', width: '5.5rem', isRight: true },
    cell: ({ tempo }) => tempo ?? '',
  },
  { id: 'key', label: 'Key by name', width: '5.5rem', cell: ({ key }) => key ?? '' },
  ...(target
    ? [
        {
          ...{ id: 'target', label: 'At target', width: '10.5rem' },
          cell: (file: FileRow) => <AtTarget file={file} target={target} />,
        },
      ]
    : []),
  {
    ...{ id: 'import', label: '', width: '6.5rem', isFixed: true },
    cell: (file) =>
      file.takenIn ? (
        <span className="flex items-center gap-1 text-good">
          <Check className="size-3.5" aria-hidden /> imported
        </span>
      ) : (
        <Button onClick={() => onTake(file)}>Import</Button>
      ),
  },
];

/** What becomes of a file at the target, as soon as it was heard. */
function AtTarget({ file, target }: { file: FileRow; target: Target }) {
  const heard = useHeard(file.sampleId);
  if (!heard) return <span className="text-tiny text-ink-soft">measured when played</span>;
  const proposal = proposalOfMeasurement(heard, target);
  const bpm = measuredGrid(heard)?.tempoBpm ?? null;
  const own = bpm && Math.round(bpm * 100) / 100;
  return (
    <span className="figures text-tiny text-trace" title={proposalSentence(proposal, own)}>
      {[tempoBecomes(proposal, own), keyBecomes(proposal)].filter(Boolean).join(', ') || 'unchanged'}
    </span>
  );
}

function FileTrace({ file }: { file: FileRow }) {
  const peek = usePeek(file);
  const { sampleId, name } = file;
  return (
    <RowTrace
      row={{
        ...{ sampleId, name },
        thumbnail: peek?.thumbnail ?? null,
        durationSeconds: peek?.durationSeconds ?? null,
      }}
    />
  );
}

function FileName({ file }: { file: FileRow }) {
  const fault = usePeek(file)?.fault;
  return (
    <>
      <span className="block truncate font-medium" title={file.name}>
        {file.name}
      </span>
      {fault && <span className="block truncate text-tiny text-one">{fault}</span>}
    </>
  );
}

function FileLength({ file }: { file: FileRow }) {
  const peek = usePeek(file);
  if (!peek) return '…';
  return peek.durationSeconds === null ? '–' : lengthText(peek.durationSeconds);
}
