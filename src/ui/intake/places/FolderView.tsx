import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import clsx from 'clsx';
import { Check, ChevronRight, Folder } from 'lucide-react';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { PlaceFolder } from '@/contract/places';
import { fetchFolder, peekInto, takeFromPlace } from '../../api/places';
import { engine } from '../../audio/engine';
import { Button } from '../../pieces/Button';
import { lengthText, sizeText } from '../../pieces/figures';
import { keepKeysFree } from '../../pieces/pressedByMouse';
import { character, key, useKeys, type KeyAction } from '../../shell/keys';
import { atTarget, useAim } from '../../target/useAim';
import { Thumbnail } from '../../trace/Thumbnail';

const complain = (error: Error) => void toast.error(error.message);
const join = (path: string, name: string) => (path ? `${path}/${name}` : name);

const ROW = 40;

/** One folder of a kept place: its folders to go into, its files to be heard and taken in. */
export function FolderView({
  placeId,
  path,
  root,
  onGo,
}: {
  placeId: number;
  path: string;
  root: string;
  onGo: (path: string) => void;
}) {
  const queries = useQueryClient();
  const { data, error, isPending } = useQuery({
    queryKey: ['places', placeId, path],
    queryFn: ({ signal }) => fetchFolder(placeId, path, signal),
    refetchInterval: 5000,
  });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [cursor, setCursor] = useState(-1);
  const scroller = useRef<HTMLDivElement>(null);
  const folders = useMemo(() => data?.folders ?? [], [data]);
  const files = useMemo(() => data?.files ?? [], [data]);
  const virtual = useVirtualizer({
    count: files.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const toggle = (name: string) =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  const fresh = files.filter(({ takenIn }) => !takenIn);
  const take = useCallback(
    (paths: readonly string[]) =>
      void takeFromPlace(placeId, paths)
        .then(({ files: count }) => {
          toast(`${count} ${count === 1 ? 'file is' : 'files are'} being taken in.`);
          setChosen(new Set());
          return queries.invalidateQueries({ queryKey: ['tasks'] });
        })
        .catch(complain),
    [placeId, queries],
  );
  const aim = useAim();
  const audioId = useCallback((name: string) => `place:${placeId}:${join(path, name)}`, [placeId, path]);

  useKeys(
    useMemo<KeyAction[]>(() => {
      const group = 'Kept place';
      const step = (by: number) => () => {
        const next = Math.max(0, Math.min(files.length - 1, cursor + by));
        setCursor(next);
        virtual.scrollToIndex(next);
        if (files[next]) void engine.playAlone(audioId(files[next].name), 0);
      };
      const file = files[cursor];
      return [
        { keys: '↓', does: 'Next file, played at once', group, matches: key('ArrowDown'), run: step(1) },
        { keys: '↑', does: 'Previous file, played at once', group, matches: key('ArrowUp'), run: step(-1) },
        {
          keys: 'Space',
          does: 'Play the file, or stop',
          group,
          matches: key('Space'),
          run: () => file && engine.toggleAlone(audioId(file.name)),
        },
        {
          keys: 'V',
          does: 'Play the file at the target, measured as it is, or stop',
          group,
          matches: character('v'),
          run: () => file && atTarget(aim, { sampleId: audioId(file.name), durationSeconds: null }),
        },
        {
          keys: 'X',
          does: 'Choose the file, or not',
          group,
          matches: character('x'),
          run: () => file && toggle(file.name),
        },
        {
          keys: 'Enter',
          does: 'Take the file in',
          group,
          matches: key('Enter'),
          run: () => file && !file.takenIn && take([join(path, file.name)]),
        },
        {
          keys: 'Backspace',
          does: 'One folder up',
          group,
          matches: key('Backspace'),
          run: () => path && onGo(path.split('/').slice(0, -1).join('/')),
        },
      ];
    }, [files, cursor, virtual, audioId, take, path, onGo, aim]),
  );

  const crumbs = [root, ...path.split('/').filter(Boolean)];
  return (
    <section aria-label="Folder" className="flex min-w-0 flex-1 flex-col">
      <div className="flex h-10 shrink-0 items-center gap-1.5 border-b border-rule-strong px-4 text-small">
        <nav aria-label="Way to this folder" className="flex min-w-0 items-center">
          {crumbs.map((name, i) => (
            <span key={i} className="flex items-center">
              {i > 0 && <ChevronRight className="size-3.5 text-ink-soft" aria-hidden />}
              <button
                type="button"
                onMouseDown={keepKeysFree}
                className={clsx('truncate hover:underline', i === crumbs.length - 1 && 'font-semibold')}
                onClick={() => onGo(crumbs.slice(1, i + 1).join('/'))}
              >
                {name}
              </button>
            </span>
          ))}
        </nav>
        <span className="ml-auto text-ink-soft">
          {files.length} files, {files.length - fresh.length} of them taken in
          {data && data.others > 0 && `; ${data.others} others are not listed`}
        </span>
        {chosen.size > 0 && (
          <Button tone="strong" onClick={() => take([...chosen].map((name) => join(path, name)))}>
            Take in {chosen.size} chosen
          </Button>
        )}
        <Button disabled={!data || (fresh.length === 0 && folders.length === 0)} onClick={() => take([path])}>
          Take in the whole folder
        </Button>
      </div>
      {error && <p className="p-6 text-one">{error.message}</p>}
      {isPending && <p className="p-6 text-ink-soft">Looking into the folder …</p>}
      {folders.length > 0 && (
        <ul className="flex max-h-32 shrink-0 flex-wrap gap-x-1 gap-y-1 overflow-y-auto border-b border-rule px-4 py-2">
          {folders.map(({ name, files: count }) => (
            <li key={name}>
              <Button onClick={() => onGo(join(path, name))}>
                <Folder className="size-4" aria-hidden /> {name}{' '}
                <span className="figures font-normal text-ink-soft">{count}</span>
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto">
        {data && files.length === 0 && (
          <p className="p-8 text-center text-ink-soft">
            No audio and no MIDI files lie in this folder itself.
          </p>
        )}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => (
            <FileRow
              key={files[index].name}
              file={files[index]}
              start={start}
              placeId={placeId}
              path={join(path, files[index].name)}
              audioId={audioId(files[index].name)}
              selected={index === cursor}
              chosen={chosen.has(files[index].name)}
              onSelect={() => setCursor(index)}
              onToggle={() => toggle(files[index].name)}
              onTake={() => take([join(path, files[index].name)])}
            />
          ))}
        </div>
      </div>
    </section>
  );
}

interface FileRowProps {
  file: PlaceFolder['files'][number];
  start: number;
  placeId: number;
  path: string;
  audioId: string;
  selected: boolean;
  chosen: boolean;
  onSelect: () => void;
  onToggle: () => void;
  onTake: () => void;
}

function FileRow(props: FileRowProps) {
  const { file, start, placeId, path, audioId, selected, chosen, onSelect, onToggle, onTake } = props;
  const { data: peek } = useQuery({
    queryKey: ['peek', placeId, path, file.byteLength, file.modifiedMs],
    queryFn: ({ signal }) => peekInto(placeId, path, signal),
    staleTime: Infinity,
  });
  return (
    <div
      className={clsx(
        'absolute inset-x-0 grid h-10 grid-cols-[1.25rem_9rem_minmax(10rem,1fr)_5rem_5rem_6rem_6rem_6.5rem] items-center gap-x-3 border-b border-rule px-4 text-small',
        selected ? 'bg-wash-ink shadow-[inset_3px_0_0_var(--one)]' : 'hover:bg-sheet',
      )}
      style={{ transform: `translateY(${start}px)` }}
      onClick={onSelect}
    >
      <input
        type="checkbox"

        aria-label={`Choose ${file.name}`}
        checked={chosen}
        onChange={onToggle}
      />
      <Thumbnail
        sampleId={audioId}
        thumbnail={peek?.thumbnail ?? null}
        durationSeconds={peek?.durationSeconds ?? null}
        name={file.name}
      />
      <span className="min-w-0">
        <span className="block truncate font-medium" title={file.name}>
          {file.name}
        </span>
        {peek?.fault && <span className="block truncate text-tiny text-one">{peek.fault}</span>}
      </span>
      <span className="figures text-right">
        {peek ? (peek.durationSeconds === null ? '–' : lengthText(peek.durationSeconds)) : '…'}
      </span>
      <span className="figures text-right text-ink-soft">{sizeText(file.byteLength)}</span>
      <span className="figures text-right" title="what the name says">
        {file.tempo ?? ''}
      </span>
      <span title="what the name says">{file.key ?? ''}</span>
      {file.takenIn ? (
        <span className="flex items-center gap-1 text-good">
          <Check className="size-3.5" aria-hidden /> taken in
        </span>
      ) : (
        <Button onClick={onTake}>Take in</Button>
      )}
    </div>
  );
}
