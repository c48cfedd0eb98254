'use client';
import { useQuery } from '@tanstack/react-query';
import { BookmarkPlus, X } from 'lucide-react';
import { useState } from 'react';
import type { KeptSearch } from '@/contract/searches';
import type { ShelfView } from '@/contract/shelfQuery';
import { fetchSearches, forgetSearch, keepSearch } from '../api/searches';
import { Button, TextButton } from '../kit/Button';
import { TextField } from '../kit/Field';
import { IconButton } from '../kit/IconButton';
import { keepKeysFree } from '../kit/pressedByMouse';
import { useAction } from '../kit/useAction';
import { WHOLE_SHELF } from './useShelfQuery';

interface Props {
  view: ShelfView;
  onView: (view: ShelfView) => void;
}

const NONE: KeptSearch[] = [];
const RENEWS = ['searches'];
const same = (a: ShelfView, b: ShelfView) =>
  Object.keys(WHOLE_SHELF).every(
    (name) => JSON.stringify(a[name as keyof ShelfView]) === JSON.stringify(b[name as keyof ShelfView]),
  );

/** Searches that were saved under a name. */
export function SavedSearches({ view, onView }: Props) {
  const { data: saved = NONE } = useQuery({
    queryKey: RENEWS,
    queryFn: ({ signal }) => fetchSearches(signal),
  });
  const [name, setName] = useState<string | null>(null);
  const isWhole = same(view, WHOLE_SHELF);
  const shown = saved.find(({ asked }) => same(asked, view));
  const remove = useAction({
    run: ({ searchId }: KeptSearch) => forgetSearch(searchId),
    renews: RENEWS,
    says: (_, { name: deleted }) => `“${deleted}” deleted.`,
    undo: (_, { name: deleted, asked }) => keepSearch({ name: deleted, asked }),
  });
  const save = useAction({
    run: (called: string) => keepSearch({ name: called, asked: view }),
    renews: RENEWS,
    then: () => setName(null),
  });
  if (saved.length === 0 && isWhole) return null;
  return (
    <div role="group" aria-label="Saved searches" className="space-y-1">
      <ul className="flex flex-wrap gap-1">
        {saved.map((one) => (
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
                aria-label={`Delete the saved search ${one.name}`}
                className="pr-1"
                onClick={() => remove.act(one)}
              >
                <X className="size-3" aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      {!isWhole && !shown && name === null && (
        <TextButton className="inline-flex items-center gap-1" onClick={() => setName(view.text)}>
          <BookmarkPlus className="size-3.5" aria-hidden /> Save search…
        </TextButton>
      )}
      {name !== null && (
        <form
          className="flex gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) save.act(name);
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
            Save
          </Button>
          <IconButton label="Cancel" onClick={() => setName(null)}>
            <X aria-hidden />
          </IconButton>
        </form>
      )}
    </div>
  );
}
