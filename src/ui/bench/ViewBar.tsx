'use client';
import clsx from 'clsx';
import { Magnet } from 'lucide-react';
import type { ReactNode } from 'react';
import { fieldClass } from '../pieces/Field';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { SNAPS, type Snap } from './snapping';

export const MAIN_VIEWS = ['fold', 'line', 'seam', 'key', 'cut'] as const;
export type MainView = (typeof MAIN_VIEWS)[number];

const TITLES: Record<MainView, string> = { fold: 'Fold', line: 'Line', seam: 'Seam', key: 'Key', cut: 'Cut' };

interface Props {
  view: MainView;
  onView: (view: MainView) => void;
  children: ReactNode;
}

/** Which picture stands in the middle, and beside it that picture's own tools. */
export function ViewBar({ view, onView, children }: Props) {
  return (
    <div className="flex h-8 shrink-0 items-stretch gap-2 border-b border-rule-strong bg-sheet pr-2">
      <div role="tablist" aria-label="Main view" className="flex">
        {MAIN_VIEWS.map((name, i) => (
          <button
            key={name}
            type="button"
            role="tab"
            aria-selected={view === name}
            title={`${TITLES[name]} (${i + 1})`}
            onMouseDown={keepKeysFree}
            onClick={() => onView(name)}
            className={clsx(
              'border-b-2 px-2.5 text-small',
              view === name ? 'border-one font-semibold' : 'border-transparent text-ink-soft hover:text-ink',
            )}
          >
            {TITLES[name]}
          </button>
        ))}
      </div>
      <div className="flex min-w-0 flex-1 items-center gap-1.5 text-small">{children}</div>
    </div>
  );
}

/** What things that are placed by hand go to; Alt overrides it for the moment. */
export function SnapChoice({ snap, onSnap }: { snap: Snap; onSnap: (snap: Snap) => void }) {
  return (
    <label
      className="flex items-center gap-1 text-tiny whitespace-nowrap text-ink-soft"
      title="What is placed by hand snaps to this; hold Alt for the other"
    >
      <Magnet className="size-3.5" aria-hidden />
      <select
        aria-label="Snaps to"
        className={clsx(fieldClass, 'h-6 w-[4.6rem] px-0.5')}
        value={snap}
        onChange={(event) => onSnap(event.target.value as Snap)}
      >
        {SNAPS.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </label>
  );
}
