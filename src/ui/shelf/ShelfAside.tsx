'use client';
import type { Key } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import type { ShelfFacets, ShelfView } from '@/contract/shelfQuery';
import { useHint } from '../kit/shortcuts';
import { Tabs } from '../kit/Tabs';
import { SHELF } from '../shortcuts/shortcutTables';
import { SampleDetails } from './SampleDetails';
import { ShelfFilters } from './ShelfFilters';

const ASIDES = ['search', 'details'] as const;
export type Aside = (typeof ASIDES)[number];

interface Props {
  aside: Aside;
  view: ShelfView;
  counts: ShelfFacets | undefined;
  current: SampleSummary | null;
  targetKey: Key | null;
  onAside: (aside: Aside) => void;
  onView: (view: ShelfView) => void;
}

/** Beside the list: what it is searched by, or the details of the row under the cursor. */
export function ShelfAside({ aside, view, counts, current, targetKey, onAside, onView }: Props) {
  const hint = useHint();
  return (
    <aside aria-label="Search" className="flex w-64 shrink-0 flex-col border-r border-rule-strong bg-sheet">
      <Tabs
        label="Side panel"
        isWide
        className="shrink-0 border-b border-rule-strong"
        value={aside}
        tabs={ASIDES}
        text={{ search: 'Search', details: 'Details' }}
        hint={() => hint(SHELF.details)}
        onChange={onAside}
      />
      <div className="min-h-0 flex-1 overflow-y-auto p-3">
        {aside === 'search' ? (
          <ShelfFilters view={view} onView={onView} counts={counts} targetKey={targetKey} />
        ) : current ? (
          <SampleDetails key={current.sampleId} sampleId={current.sampleId} />
        ) : (
          <p className="text-small text-ink-soft">Select a row to see its tags.</p>
        )}
      </div>
    </aside>
  );
}
