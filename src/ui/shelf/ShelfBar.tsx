'use client';
import { ChartColumn, LayoutGrid } from 'lucide-react';
import { counted } from '@/words/plural';
import type { SamplePage, ShelfQuery, ShelfView } from '@/contract/shelfQuery';
import { IconButton } from '../kit/IconButton';
import { Select } from '../kit/Select';
import { useHint } from '../kit/shortcuts';
import { InsteadOf } from '../list/InsteadOf';
import { SHELF } from '../shortcuts/shortcutTables';
import { useTarget } from '../target/target';
import { SimilarBar } from './SimilarBar';

type Sort = ShelfQuery['sort'];
type Direction = ShelfQuery['direction'];

/** Orders of the Shelf, by what they are called. */
const SORTS: Readonly<Record<string, readonly [Sort, Direction]>> = {
  'newest first': ['saved', 'down'],
  name: ['name', 'up'],
  'tempo, slowest first': ['tempo', 'up'],
  'tempo, fastest first': ['tempo', 'down'],
  key: ['key', 'up'],
  'shortest first': ['length', 'up'],
  'highest rated': ['rating', 'down'],
  'least strain': ['strain', 'up'],
  'most similar': ['likeness', 'up'],
};

/** The same view sorted by a column: the other way round when it is that column already. */
export function sortedByColumn(view: ShelfView, by: string): ShelfView {
  const sort = by as Sort;
  const turned = view.direction === 'up' ? 'down' : 'up';
  const usual = sort === 'saved' || sort === 'rating' ? 'down' : 'up';
  return { ...view, sort, direction: sort === view.sort ? turned : usual };
}

interface Props {
  view: ShelfView;
  total: number;
  first: SamplePage | undefined;
  isTiles: boolean;
  onView: (view: ShelfView) => void;
  onTiles: (isTiles: boolean) => void;
  isOverviewOpen: boolean;
  onOverview: (isOpen: boolean) => void;
}

/** How many samples are found, and how they are listed. */
export function ShelfBar(props: Props) {
  const { view, total, first, isTiles, onView, onTiles, isOverviewOpen, onOverview } = props;
  const { isOn } = useTarget();
  const hint = useHint();
  const order = Object.keys(SORTS).find(
    (name) => SORTS[name][0] === view.sort && SORTS[name][1] === view.direction,
  );
  return (
    <div className="flex h-10 shrink-0 items-center justify-between gap-2 border-b border-rule-strong px-4 text-small">
      <span role="status">
        {first?.more && 'more than '}
        {counted(total, 'saved sample')}
        {first?.more && '; the first are listed'}
        <InsteadOf words={first?.insteadOf ?? []} />
      </span>
      {view.like && (
        <SimilarBar
          sampleId={view.like}
          by={view.likeBy}
          onBy={(likeBy) => onView({ ...view, likeBy, sort: 'likeness', direction: 'up' })}
          onEnd={() => onView({ ...view, like: null, sort: 'saved', direction: 'down' })}
        />
      )}
      <IconButton
        className="ml-auto"
        label={hint(SHELF.overview, isOverviewOpen ? 'Hide the overview' : 'Show the overview')}
        pressed={isOverviewOpen}
        onClick={() => onOverview(!isOverviewOpen)}
      >
        <ChartColumn aria-hidden />
      </IconButton>
      <IconButton
        label={hint(SHELF.grid, isTiles ? 'Show as list' : 'Show as grid')}
        pressed={isTiles}
        onClick={() => onTiles(!isTiles)}
      >
        <LayoutGrid aria-hidden />
      </IconButton>
      <Select
        label="Sort"
        place="beside"
        className="w-40"
        value={order}
        options={Object.keys(SORTS)}
        isOff={(name) => (name === 'least strain' && !isOn) || (name === 'most similar' && !view.like)}
        onChange={(name) => onView({ ...view, sort: SORTS[name][0], direction: SORTS[name][1] })}
      />
    </div>
  );
}
