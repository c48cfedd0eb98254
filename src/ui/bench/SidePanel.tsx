'use client';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import clsx from 'clsx';
import { memo, useDeferredValue } from 'react';
import type { Lean } from '@/core/rhythm/lean';
import { FamilyCard } from '../family/FamilyCard';
import { keepKeysFree } from '../pieces/pressedByMouse';
import type { Compared } from './CompareBar';
import { GridCard } from './grid/GridCard';
import { HistoryCard } from './HistoryCard';
import { ProofCard } from './proof/ProofCard';
import { ReadingsTable } from './ReadingsTable';
import { SaveBar } from './SaveBar';
import { SettledHead } from './settle/SettledHead';
import { SettlePanel } from './settle/SettlePanel';
import { TagsCard } from '../tags/TagsCard';
import type { Snap } from './snapping';
import type { Bench } from './useBench';
import type { Settling } from './useSettling';
import type { Taps } from './useTaps';
import type { View } from './useView';

interface Props {
  bench: Bench;
  taps: Taps;
  lean: Lean | null;
  show: View['show'];
  settling: Settling;
  snap: Snap;
  compared: Compared | null;
  onCompare: (other: Compared | null) => void;
}

/** The figures beside the picture: what is settled, and below it readings, grid, proof, tags, history. */
export function SidePanel({ bench, settling, ...rest }: Props) {
  // While a grid is pulled the picture goes first; the cards follow as soon as there is time.
  const calm = useDeferredValue(bench);
  return (
    <aside className="flex w-[23rem] shrink-0 flex-col border-l border-rule-strong">
      <SettledHead bench={bench} onMove={settling.settle} />
      <Cards bench={calm} settling={settling} {...rest} />
    </aside>
  );
}

const Cards = memo(function Cards({ bench, taps, lean, show, settling, snap, compared, onCompare }: Props) {
  return (
    <>
      <TabGroup className="flex min-h-0 flex-1 flex-col">
        <TabList className="flex shrink-0 border-b border-rule-strong bg-sheet">
          {['Readings', 'Grid', 'Proof', 'Tags', 'History'].map((name) => (
            <Tab
              key={name}
              onMouseDown={keepKeysFree}
              className={({ selected }) =>
                clsx(
                  'flex-1 border-b-2 py-1.5 text-small',
                  selected ? 'border-one font-semibold' : 'border-transparent text-ink-soft hover:text-ink',
                )
              }
            >
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanels className="min-h-0 flex-1 overflow-y-auto">
          <TabPanel className="p-3">
            <SettlePanel bench={bench} taps={taps} lean={lean} snap={snap} onMove={settling.settle} />
            <ReadingsTable bench={bench} compared={compared} onCompare={onCompare} />
          </TabPanel>
          <TabPanel className="p-3">
            <GridCard bench={bench} settling={settling} />
          </TabPanel>
          <TabPanel className="p-3">
            <ProofCard bench={bench} show={show} settling={settling} />
          </TabPanel>
          <TabPanel className="p-3">
            <TagsCard entry={bench.entry} settle={bench.settle} />
          </TabPanel>
          <TabPanel className="p-3">
            <FamilyCard sampleId={bench.entry.summary.sampleId} />
            <HistoryCard bench={bench} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
      <SaveBar bench={bench} />
    </>
  );
});
