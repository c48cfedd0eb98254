'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { Eye, FolderPlus, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { fetchPlaces, forgetPlace, keepPlace, watchPlace } from '../../api/places';
import { engine } from '../../audio/engine';
import { Button } from '../../pieces/Button';
import { Labelled, TextField } from '../../pieces/Field';
import { IconButton } from '../../pieces/IconButton';
import { keepKeysFree } from '../../pieces/pressedByMouse';
import { useAddressed } from '../../pieces/useAddressed';
import { FolderView } from './FolderView';

const complain = (error: Error) => void toast.error(error.message);

/** Where somebody looks: a folder below a kept place. */
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

/** Folders of the server: looked through and heard where they are, taken in by choice, or watched. */
export function PlacesScreen() {
  const queries = useQueryClient();
  const { data, isPending } = useQuery({
    queryKey: ['places'],
    queryFn: ({ signal }) => fetchPlaces(signal),
  });
  const { places = [], roots = [] } = data ?? {};
  const [at, setAt] = useAddressed<Whereabouts | null>(() => null, IN_ADDRESS);
  const isKept = places.some(({ placeId }) => placeId === at?.placeId);
  const here = isKept ? at : places[0] ? { placeId: places[0].placeId, path: '' } : null;
  const [wanted, setWanted] = useState('');
  const renew = () => queries.invalidateQueries({ queryKey: ['places'] });
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="flex h-full">
      <aside
        aria-label="Kept places"
        className="flex w-72 shrink-0 flex-col border-r border-rule-strong bg-sheet"
      >
        <form
          className="flex items-end gap-1.5 border-b border-rule p-3"
          onSubmit={(event) => {
            event.preventDefault();
            void keepPlace(wanted)
              .then(async ({ placeId }) => {
                setWanted('');
                await renew();
                setAt({ placeId, path: '' });
              })
              .catch(complain);
          }}
        >
          <Labelled label="Keep a folder of this machine" className="min-w-0 flex-1">
            <TextField
              className="w-full"
              placeholder={roots[0] ?? ''}
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
            />
          </Labelled>
          <Button type="submit" disabled={wanted.trim() === ''} aria-label="Keep this folder">
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
                      ? 'Watched: new files are taken in. Press to stop'
                      : 'Watch: take new files in by itself'
                  }
                  pressed={watched}
                  onClick={() => void watchPlace(placeId, !watched).then(renew).catch(complain)}
                >
                  <Eye />
                </IconButton>
                <IconButton
                  label={`Keep ${path} no longer`}
                  onClick={() => {
                    setAt(null);
                    void forgetPlace(placeId).then(renew).catch(complain);
                  }}
                >
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
              Keep a folder of this machine to look through it: hear what is in it and take in what you
              choose. A watched folder is taken in by itself, each file once it has stopped growing. It may
              lie below {roots.map((root) => `“${root}”`).join(' or ')}.
            </p>
          )}
        </div>
      )}
    </div>
  );
}
