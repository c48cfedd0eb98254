'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Eye, FolderPlus, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { fetchPlaces, forgetPlace, keepPlace, watchPlace } from '../../api/places';
import { engine } from '../../audio/engine';
import { Button } from '../../kit/Button';
import { Labelled, TextField } from '../../kit/Field';
import { IconButton } from '../../kit/IconButton';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { useAddressed } from '../../kit/useAddressed';
import { FolderView } from './FolderView';
import { useAction } from '../../kit/useAction';

const RENEWS = ['places'];

/** Where somebody looks: a folder below a folder. */
interface Whereabouts {
  placeId: number;
  path: string;
}
const IN_ADDRESS = {
  names: ['place', 'in'],
  read: (params: URLSearchParams): Whereabouts | null => {
    const placeId = Number(params.get('place'));
    return placeId > 0 ? { placeId, path: params.get('in') ?? '' } : null;
  },
  write: (at: Whereabouts | null) =>
    new URLSearchParams(at ? { place: String(at.placeId), ...(at.path && { in: at.path }) } : {}),
};

/** Folders of the server: looked through and heard where they are, imported by choice, or watched. */
export function PlacesScreen() {
  const { data, isPending } = useQuery({
    queryKey: ['places'],
    queryFn: ({ signal }) => fetchPlaces(signal),
  });
  const { places = [], roots = [] } = data ?? {};
  const [at, setAt] = useAddressed<Whereabouts | null>(() => null, IN_ADDRESS);
  const isKept = places.some(({ placeId }) => placeId === at?.placeId);
  const here = isKept ? at : places[0] ? { placeId: places[0].placeId, path: '' } : null;
  const [wanted, setWanted] = useState('');
  const add = useAction({
    run: keepPlace,
    renews: RENEWS,
    then: ({ placeId }) => {
      setWanted('');
      setAt({ placeId, path: '' });
    },
  });
  const watch = useAction({
    run: ({ placeId, watched }: { placeId: number; watched: boolean }) => watchPlace(placeId, !watched),
    renews: RENEWS,
  });
  const remove = useAction({ run: forgetPlace, renews: RENEWS, then: () => setAt(null) });
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="flex h-full">
      <aside
        aria-label="Folders"
        className="flex w-72 shrink-0 flex-col border-r border-rule-strong bg-sheet"
      >
        <form
          className="flex items-end gap-1.5 border-b border-rule p-3"
          onSubmit={(event) => {
            event.preventDefault();
            add.act(wanted);
          }}
        >
          <Labelled label="Path of a folder on this machine" className="min-w-0 flex-1">
            <TextField
              className="w-full"
              placeholder={roots[0] ?? ''}
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
            />
          </Labelled>
          <Button type="submit" disabled={wanted.trim() === ''} aria-label="Add folder">
            <FolderPlus className="size-4" aria-hidden />
          </Button>
        </form>
        <ul className="min-h-0 flex-1 overflow-y-auto">
          {places.map(({ placeId, path, watched, fault }) => (
            <li
              key={placeId}
              className={clsx('border-b border-rule px-3 py-2', here?.placeId === placeId && 'bg-wash-ink')}
            >
              <div className="flex items-center gap-1">
                <button
                  type="button"
                  onMouseDown={keepKeysFree}
                  className="min-w-0 flex-1 truncate text-left font-medium"
                  title={path}
                  onClick={() => setAt({ placeId, path: '' })}
                >
                  {path.split('/').pop()}
                </button>
                <IconButton
                  label={
                    watched
                      ? 'Watched: new files are imported. Press to stop watching'
                      : 'Watch: import new files automatically'
                  }
                  pressed={watched}
                  onClick={() => watch.act({ placeId, watched })}
                >
                  <Eye />
                </IconButton>
                <IconButton label={`Remove ${path} from the list`} onClick={() => remove.act(placeId)}>
                  <X />
                </IconButton>
              </div>
              <div className="truncate text-tiny text-ink-soft">
                {watched ? 'watched · ' : ''}
                {path}
              </div>
              {fault && <div className="text-tiny text-one">{fault}</div>}
            </li>
          ))}
        </ul>
      </aside>
      {here ? (
        <FolderView
          key={`${here.placeId} ${here.path}`}
          placeId={here.placeId}
          path={here.path}
          root={
            places
              .find(({ placeId }) => placeId === here.placeId)
              ?.path.split('/')
              .pop() ?? ''
          }
          onGo={(path) => setAt({ placeId: here.placeId, path })}
        />
      ) : (
        <div className="flex-1 p-12 text-center text-ink-soft">
          {!isPending && (
            <p>
              Add a folder of this machine to browse it: listen to its files and import the ones you select.
              New files in a watched folder are imported automatically, as soon as they are complete. A folder
              must be below {roots.map((root) => `“${root}”`).join(' or ')}.
            </p>
          )}
        </div>
      )}
    </div>
  );
}
