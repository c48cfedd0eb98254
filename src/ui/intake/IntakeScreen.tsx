'use client';
import clsx from 'clsx';
import { ArrowDown, ArrowUp, FolderInput, Search, Upload as UploadIcon } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import type { IntakeQuery } from '@/core/library/shelfQuery';
import { api } from '../api/client';
import { player } from '../audio/player';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import { useListedRows } from '../pieces/useListedRows';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { playSample } from '../trace/Thumbnail';
import { FiguresProof } from './FiguresProof';
import { COLUMNS, IntakeRow } from './IntakeRow';
import { UploadPanel } from './UploadPanel';
import { uploads } from './uploads';
import { useIntakeRows } from './useIntakeRows';
import { rememberWorkingList } from './workingList';
import { keepKeysFree } from '../pieces/pressedByMouse';

const SHOW: { value: IntakeQuery['show']; label: string }[] = [
  { value: 'all', label: 'All' },
  { value: 'needs a look', label: 'Needs a look' },
  { value: 'measuring', label: 'Being measured' },
  { value: 'faulty', label: 'Cannot be read' },
  { value: 'not saved', label: 'Not saved' },
  { value: 'saved', label: 'Saved' },
];

const HEADS: { label: string; sort: IntakeQuery['sort'] | null; right?: boolean }[] = [
  { label: 'Arrived', sort: 'arrived' },
  { label: 'Name', sort: 'name' },
  { label: 'Kind', sort: 'kind' },
  { label: 'Length', sort: 'length', right: true },
  { label: 'BPM', sort: 'tempo', right: true },
  { label: 'Bars', sort: null, right: true },
  { label: 'Key', sort: 'key' },
  { label: 'Sure', sort: null, right: true },
  { label: 'Standing', sort: 'standing' },
  { label: 'Needs a look because', sort: 'need' },
];

const ROW_HEIGHT = 44;

export function IntakeScreen() {
  const router = useRouter();
  const [show, setShow] = useState<IntakeQuery['show']>('all');
  const [text, setText] = useState('');
  const [sort, setSort] = useState<IntakeQuery['sort']>('arrived');
  const [direction, setDirection] = useState<IntakeQuery['direction']>('down');
  const list = useIntakeRows({ show, sort, direction, text: useDeferredValue(text) });
  const { rows, total, counts, fetchNextPage, hasNextPage, isFetchingNextPage } = list;
  const { scroller, shown, totalHeight, selected, setSelected, walk } = useListedRows({
    count: rows.length,
    rowHeight: ROW_HEIGHT,
    hasNextPage,
    isFetchingNextPage,
    fetchNextPage,
  });

  const open = useCallback(
    (sampleId: string) => {
      rememberWorkingList(rows);
      router.push(`/bench/${sampleId}`);
    },
    [rows, router],
  );

  const drop = useCallback((files: readonly DroppedFile[]) => {
    uploads.add(files.map((file) => ({ file, folder: folderOf(file) })));
  }, []);
  const dropzone = useDropzone({ onDrop: drop, noClick: true, noKeyboard: true });
  const folderInput = useRef<HTMLInputElement>(null);

  const bin = useCallback(async (sampleId: string, name: string) => {
    try {
      await api.setInBin(sampleId, true);
      toast(`“${name}” is in the bin.`, {
        action: {
          label: 'Take it back',
          onClick: () =>
            void api.setInBin(sampleId, false).catch((error: Error) => toast.error(error.message)),
        },
      });
    } catch (error) {
      toast.error((error as Error).message);
    }
  }, []);

  const current = rows[selected];
  useKeys(
    useMemo<KeyAction[]>(() => {
      const group = 'Intake';
      const withRow = (run: (row: NonNullable<typeof current>) => void) => () => current && run(current);
      return [
        { keys: '↓', does: 'Next row', group, matches: key('ArrowDown'), run: () => walk(1) },
        { keys: '↑', does: 'Previous row', group, matches: key('ArrowUp'), run: () => walk(-1) },
        {
          keys: 'Space',
          does: 'Play the row, or stop',
          group,
          matches: key('Space'),
          run: withRow((row) => {
            const { sampleId, status } = player.getState();
            void playSample(row.sampleId, sampleId === row.sampleId && status === 'playing' ? null : 0);
          }),
        },
        {
          keys: 'Enter',
          does: 'Open on the Bench',
          group,
          matches: key('Enter'),
          run: withRow((row) => open(row.sampleId)),
        },
        {
          keys: 'M',
          does: 'Measure again',
          group,
          matches: character('m'),
          run: withRow(
            (row) =>
              void api.measureAgain(row.sampleId, null).catch((error: Error) => toast.error(error.message)),
          ),
        },
        {
          keys: 'X',
          does: 'Stop measuring',
          group,
          matches: character('x'),
          run: withRow(
            (row) => void api.stopMeasuring(row.sampleId).catch((error: Error) => toast.error(error.message)),
          ),
        },
        {
          keys: 'Delete',
          does: 'Put into the bin',
          group,
          matches: key('Delete'),
          run: withRow((row) => void bin(row.sampleId, row.name)),
        },
      ];
    }, [current, walk, open, bin]),
  );

  const sortBy = (next: IntakeQuery['sort']) => {
    if (next === sort) setDirection(direction === 'down' ? 'up' : 'down');
    else {
      setSort(next);
      setDirection(next === 'arrived' || next === 'need' || next === 'standing' ? 'down' : 'up');
    }
  };

  return (
    <div {...dropzone.getRootProps({ className: 'relative flex h-full flex-col' })}>
      <input {...dropzone.getInputProps({ 'aria-label': 'Choose files' })} />
      <input
        ref={folderInput}
        type="file"
        multiple
        hidden
        aria-hidden
        {...{ webkitdirectory: '' }}
        onChange={(event) => {
          drop(Array.from(event.target.files ?? []));
          event.target.value = '';
        }}
      />
      <div className="flex items-center gap-2 border-b border-rule px-4 py-2">
        <h1 className="sr-only">Intake</h1>
        <div role="group" aria-label="Show" className="flex gap-1">
          {SHOW.map(({ value, label }) => (
            <Button key={value} pressed={show === value} onClick={() => setShow(value)}>
              {label} <span className="figures font-normal text-ink-soft">{counts[value] ?? 0}</span>
            </Button>
          ))}
        </div>
        <label className="relative ml-auto">
          <span className="sr-only">Search the Intake</span>
          <Search className="pointer-events-none absolute left-2 top-1.5 size-4 text-ink-soft" aria-hidden />
          <TextField
            className="w-44 pl-7"
            type="search"
            placeholder="name, folder, tag"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <FiguresProof rows={rows} />
        <Button onClick={() => folderInput.current?.click()}>
          <FolderInput className="size-4" aria-hidden /> Folder …
        </Button>
        <Button tone="strong" onClick={dropzone.open}>
          <UploadIcon className="size-4" aria-hidden /> Take in files …
        </Button>
      </div>
      <UploadPanel />
      <div
        role="grid"
        aria-label="Arrivals"
        aria-rowcount={total + 1}
        className="flex min-h-0 flex-1 flex-col"
      >
        <div
          role="row"
          className={clsx(
            COLUMNS,
            'h-8 shrink-0 items-center border-b border-rule-strong text-tiny text-ink-soft',
          )}
        >
          {HEADS.map(({ label, sort: by, right }) => (
            <div
              key={label}
              role="columnheader"
              aria-sort={by === sort ? (direction === 'up' ? 'ascending' : 'descending') : undefined}
              className={clsx(right && 'text-right')}
            >
              {by ? (
                <button
                  type="button"
                  onMouseDown={keepKeysFree}
                  className={clsx(
                    'inline-flex items-center gap-0.5 hover:text-ink',
                    by === sort && 'font-semibold text-ink',
                  )}
                  onClick={() => sortBy(by)}
                >
                  {label}
                  {by === sort &&
                    (direction === 'up' ? (
                      <ArrowUp className="size-3" aria-hidden />
                    ) : (
                      <ArrowDown className="size-3" aria-hidden />
                    ))}
                </button>
              ) : (
                label
              )}
            </div>
          ))}
        </div>
        <div ref={scroller} className="min-h-0 flex-1 overflow-y-scroll">
          <div className="relative" style={{ height: totalHeight }}>
            {shown.map(({ index, start, key: itemKey }) => (
              <div
                key={itemKey}
                className="absolute inset-x-0"
                style={{ transform: `translateY(${start}px)` }}
              >
                <IntakeRow
                  row={rows[index]}
                  index={index}
                  selected={index === selected}
                  onSelect={setSelected}
                  onOpen={open}
                />
              </div>
            ))}
          </div>
          {rows.length === 0 && (
            <Nothing loading={list.isPending} error={list.error} filtered={show !== 'all' || text !== ''} />
          )}
        </div>
      </div>
      {dropzone.isDragActive && (
        <div className="pointer-events-none absolute inset-2 z-10 flex items-center justify-center border-2 border-dashed border-one bg-sheet/90 text-lg">
          Let go: the files are taken in as they are, nothing is trimmed, stretched or renamed.
        </div>
      )}
    </div>
  );
}

function Nothing({ loading, error, filtered }: { loading: boolean; error: Error | null; filtered: boolean }) {
  if (loading) return <p className="p-10 text-center text-ink-soft">Fetching the list …</p>;
  if (error) return <p className="p-10 text-center text-one">{error.message}</p>;
  if (filtered)
    return (
      <p className="p-10 text-center text-ink-soft">
        Nothing here matches. Choose “All” or empty the search field.
      </p>
    );
  return (
    <div className="mx-auto max-w-md p-12 text-center">
      <p className="text-lg font-semibold">Nothing has been taken in yet.</p>
      <p className="mt-2 text-ink-soft">
        Drop WAV, AIFF, FLAC, MP3, Ogg or Opus files here, or whole folders. They are measured at once; the
        files themselves are kept exactly as they are.
      </p>
    </div>
  );
}

/** The drop area adds the path that a file was dropped with. */
type DroppedFile = File & { path?: string };

function folderOf(file: DroppedFile): string {
  const path = file.webkitRelativePath || file.path || file.name;
  return path
    .replace(/^\.?\//, '')
    .split('/')
    .slice(0, -1)
    .join('/');
}
