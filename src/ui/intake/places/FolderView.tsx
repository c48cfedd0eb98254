'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { ChevronRight, Folder } from 'lucide-react';
import { useCallback, useMemo } from 'react';
import { counted } from '@/words/plural';
import { fetchFolder, takeFromPlace } from '../../api/places';
import { Button } from '../../kit/Button';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { useShortcuts } from '../../kit/shortcuts';
import { Awaited, Empty } from '../../kit/States';
import { useAction } from '../../kit/useAction';
import { SampleList } from '../../list/SampleList';
import { useListKeys } from '../../list/useListKeys';
import { useWholeList } from '../../list/usePagedList';
import { targetOf, useSelection } from '../../list/useSelection';
import { FOLDERS } from '../../shortcuts/shortcutTables';
import { aimOf, useTarget } from '../../target/target';
import { useAim } from '../../target/useAim';
import { awaitMade } from '../../tasks/made';
import { MadeLine } from '../../tasks/MadeLine';
import { fileColumns, type FileRow } from './fileColumns';

const join = (path: string, name: string) => (path ? `${path}/${name}` : name);

interface Props {
  placeId: number;
  path: string;
  root: string;
  onGo: (path: string) => void;
}

/** Files that are imported; one alone may be cut as soon as it is here. */
interface Taken {
  paths: readonly string[];
  isCut?: boolean;
}

/** One folder of this machine: its folders to open, its files to listen to and import. */
export function FolderView({ placeId, path, root, onGo }: Props) {
  const asked = useQuery({
    queryKey: ['places', placeId, path],
    queryFn: ({ signal }) => fetchFolder(placeId, path, signal),
    refetchInterval: 5000,
  });
  const { data } = asked;
  const folders = data?.folders ?? [];
  const files = useMemo(
    () =>
      (data?.files ?? []).map((file): FileRow => {
        const whole = join(path, file.name);
        return { ...file, placeId, path: whole, sampleId: `place:${placeId}:${whole}` };
      }),
    [data, placeId, path],
  );
  const list = useWholeList(files, `${placeId} ${path}`, asked);
  const selection = useSelection(list, () => Promise.resolve(files.map(targetOf)));
  const { act: take } = useAction({
    run: ({ paths }: Taken) => takeFromPlace(placeId, paths),
    renews: ['tasks'],
    then: ({ taskId }, { isCut = false }) => {
      selection.clear();
      awaitMade({ taskId, place: 'folders', then: isCut ? 'cut' : null });
    },
  });
  const aim = useAim();
  const current = list.cursor.row;
  const play = useCallback(
    ({ sampleId }: { sampleId: string }) => aim.toggle({ sampleId, durationSeconds: null }),
    [aim],
  );
  useListKeys({
    ...{ list, selection },
    onStep: ({ sampleId }) => void aim.play({ sampleId, durationSeconds: null }),
  });
  useShortcuts(FOLDERS, {
    play: () => current && play(current),
    take: () => current && !current.takenIn && take({ paths: [current.path] }),
    takeAndCut: () => current && !current.takenIn && take({ paths: [current.path], isCut: true }),
    up: () => path && onGo(path.split('/').slice(0, -1).join('/')),
  });
  const target = useTarget();
  const at = useMemo(() => (target.isOn ? aimOf(target) : null), [target]);
  const columns = useMemo(
    () => fileColumns({ selection, onTake: (file) => take({ paths: [file.path] }), target: at }),
    [selection, take, at],
  );
  const imported = files.filter(({ takenIn }) => takenIn).length;
  const selected = files.filter(({ sampleId }) => selection.has(sampleId));
  return (
    <section aria-label="Folder" className="flex min-w-0 flex-1 flex-col">
      <div className="flex h-10 shrink-0 items-center gap-1.5 border-b border-rule-strong px-4 text-small">
        <Path crumbs={[root, ...path.split('/').filter(Boolean)]} onGo={onGo} />
        <span className="ml-auto text-ink-soft">
          {counted(files.length, 'file')}, {imported} imported
          {data && data.others > 0 && `; ${data.others} other files are not listed`}
        </span>
        {selected.length > 0 && (
          <Button tone="strong" onClick={() => take({ paths: selected.map((file) => file.path) })}>
            Import {selected.length} selected
          </Button>
        )}
        <Button
          disabled={!data || (imported === files.length && folders.length === 0)}
          onClick={() => take({ paths: [path] })}
        >
          Import the whole folder
        </Button>
      </div>
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
      <MadeLine place="folders" />
      <SampleList
        name="folder"
        label="Files"
        {...{ list, columns, selection }}
        rowHeight={40}
        leastWidth="min-w-[52rem]"
        onOpen={(sampleId) => play({ sampleId })}
        empty={
          data ? (
            <Empty>This folder itself holds no audio or MIDI files.</Empty>
          ) : (
            <Awaited of={asked} what="the folder" />
          )
        }
      />
    </section>
  );
}

/** The way down to the folder; each step is a folder to go back to. */
function Path({ crumbs, onGo }: { crumbs: readonly string[]; onGo: Props['onGo'] }) {
  return (
    <nav aria-label="Path" className="flex min-w-0 items-center">
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
  );
}
