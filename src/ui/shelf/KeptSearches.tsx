'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { BookmarkPlus, X } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { KeptSearch } from '@/contract/searches';
import type { ShelfView } from '@/contract/shelfQuery';
import { fetchSearches, forgetSearch, keepSearch } from '../api/searches';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { WHOLE_SHELF } from './useShelfQuery';

interface Props {
  view: ShelfView;
  onView: (view: ShelfView) => void;
}

const NONE: KeptSearch[] = [];
const same = (a: ShelfView, b: ShelfView) =>
  Object.keys(WHOLE_SHELF).every(
    (name) => JSON.stringify(a[name as keyof ShelfView]) === JSON.stringify(b[name as keyof ShelfView]),
  );

/** Searches that somebody wants to ask again, each under its name. */
export function KeptSearches({ view, onView }: Props) {
  const queries = useQueryClient();
  const { data: kept = NONE } = useQuery({
    queryKey: ['searches'],
    queryFn: ({ signal }) => fetchSearches(signal),
  });
  const [name, setName] = useState<string | null>(null);
  const isWhole = same(view, WHOLE_SHELF);
  const shown = kept.find(({ asked }) => same(asked, view));
  const done = (next: KeptSearch[]) => queries.setQueryData(['searches'], next);
  const failed = (error: Error) => toast.error(error.message);
  const forget = async ({ searchId, name, asked }: KeptSearch) => {
    await forgetSearch(searchId);
    await queries.invalidateQueries({ queryKey: ['searches'] });
    toast(`“${name}” is forgotten.`, {
      action: {
        label: 'Take it back',
        onClick: () => void keepSearch({ name, asked }).then(done).catch(failed),
      },
    });
  };
  if (kept.length === 0 && isWhole) return null;
  return (
    <div role="group" aria-label="Kept searches" className="space-y-1">
      <ul className="flex flex-wrap gap-1">
        {kept.map((one) => (
          <li key={one.searchId} className={one === shown ? 'flex bg-ink text-paper' : 'flex bg-sunk'}>
            <button
              type="button"
              onMouseDown={keepKeysFree}
              aria-pressed={one === shown}
              className="px-1.5 py-px hover:underline"
              onClick={() => onView(one === shown ? WHOLE_SHELF : one.asked)}
            >
              {one.name}
            </button>
            {one === shown && (
              <button
                type="button"
                onMouseDown={keepKeysFree}
                aria-label={`Forget the search ${one.name}`}
                className="pr-1"
                onClick={() => void forget(one).catch(failed)}
              >
                <X className="size-3" aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      {!isWhole && !shown && name === null && (
        <button
          type="button"
          onMouseDown={keepKeysFree}
          className="inline-flex items-center gap-1 text-ink-soft hover:text-ink"
          onClick={() => setName(view.text)}
        >
          <BookmarkPlus className="size-3.5" aria-hidden /> keep this search …
        </button>
      )}
      {name !== null && (
        <form
          className="flex gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            if (!name.trim()) return;
            keepSearch({ name, asked: view })
              .then((next) => {
                done(next);
                setName(null);
              })
              .catch(failed);
          }}
        >
          <TextField
            autoFocus
            aria-label="Name of the search"
            placeholder="name of the search"
            className="min-w-0 flex-1"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && setName(null)}
          />
          <Button type="submit" disabled={name.trim() === ''}>
            Keep
          </Button>
          <IconButton label="Do not keep it" onClick={() => setName(null)}>
            <X aria-hidden />
          </IconButton>
        </form>
      )}
    </div>
  );
}
