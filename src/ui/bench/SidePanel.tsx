'use client';
import { memo, useDeferredValue } from 'react';
import { FamilyCard } from '../family/FamilyCard';
import { GridCard } from './grid/GridCard';
import { HistoryCard } from './HistoryCard';
import { ProofCard } from './proof/ProofCard';
import { ReadingsTable } from './ReadingsTable';
import { SaveBar } from './SaveBar';
import { SettledHead } from './settle/SettledHead';
import { SettlePanel } from './settle/SettlePanel';
import type { Tag } from '@/core/tags/facets';
import { TagsCard } from '../tags/TagsCard';
import { Tabs } from '../kit/Tabs';
import { CARDS } from './cards';
import { BenchContext, useBenchModel } from './useBenchModel';

/** The figures beside the picture: what is in use, and below it readings, grid, proof, tags, history. */
export function SidePanel() {
  const model = useBenchModel();
  // While a grid is dragged the picture goes first; the cards follow as soon as there is time.
  const calm = useDeferredValue(model);
  return (
    <aside className="flex w-[23rem] shrink-0 flex-col border-l border-rule-strong">
      <SettledHead />
      <BenchContext value={calm}>
        <Cards />
      </BenchContext>
    </aside>
  );
}

const Cards = memo(function Cards() {
  const { bench, card: tab, setCard } = useBenchModel();
  return (
    <>
      <Tabs
        label="Cards"
        isWide
        className="shrink-0 border-b border-rule-strong bg-sheet"
        value={tab}
        tabs={CARDS}
        onChange={setCard}
      />
      <div role="tabpanel" aria-label={tab} className="min-h-0 flex-1 overflow-y-auto p-3">
        {tab === 'Readings' && (
          <>
            <SettlePanel />
            <ReadingsTable />
          </>
        )}
        {tab === 'Grid' && <GridCard />}
        {tab === 'Proof' && <ProofCard />}
        {tab === 'Tags' && (
          <TagsCard
            entry={bench.entry}
            tagsNow={() => bench.now().entry.settled.tags as Tag[]}
            settle={bench.settle}
          />
        )}
        {tab === 'History' && (
          <>
            <FamilyCard sampleId={bench.entry.summary.sampleId} />
            <HistoryCard />
          </>
        )}
      </div>
      <SaveBar />
    </>
  );
});
