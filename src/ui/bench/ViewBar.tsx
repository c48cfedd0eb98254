'use client';
import { Magnet } from 'lucide-react';
import type { ReactNode } from 'react';
import { SNAPS } from './snapping';
import { Select } from '../kit/Select';
import { useHint } from '../kit/shortcuts';
import { Tabs } from '../kit/Tabs';
import { VIEW } from '../shortcuts/shortcutTables';
import { MAIN_VIEWS, type MainView } from './mainViews';
import { useBenchModel } from './useBenchModel';

const TITLES = Object.fromEntries(MAIN_VIEWS.map((name) => [name, VIEW[name].does])) as Record<
  MainView,
  string
>;

/** Which picture stands in the middle, and beside it that picture's own tools. */
export function ViewBar({ children }: { children: ReactNode }) {
  const { mainView, setMainView } = useBenchModel();
  const hint = useHint();
  return (
    <div className="flex min-h-8 shrink-0 items-stretch gap-2 border-b border-rule-strong bg-sheet pr-2">
      <Tabs
        label="Main view"
        value={mainView}
        tabs={MAIN_VIEWS}
        text={TITLES}
        hint={(view) => hint(VIEW[view])}
        onChange={setMainView}
      />
      <div className="flex min-w-0 flex-1 flex-wrap items-center gap-x-1.5 gap-y-0.5 text-small">
        {children}
      </div>
    </div>
  );
}

const SNAP_WORDS = { hits: 'hits', crossings: 'zero crossings', nothing: 'off' };

/** What things that are placed by hand go to; Alt overrides it for the moment. */
export function SnapChoice() {
  const { snap, setSnap } = useBenchModel();
  return (
    <span
      className="flex items-center gap-1 text-tiny whitespace-nowrap text-ink-soft"
      title="Snap of lines that you drag; hold Alt for the other"
    >
      <Magnet className="size-3.5" aria-hidden />
      <Select
        label="Snap to"
        small
        className="w-[5.4rem]"
        value={snap}
        options={SNAPS}
        text={SNAP_WORDS}
        onChange={setSnap}
      />
    </span>
  );
}
