'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { contentsOf, type PackLine } from '@/library/packs/contents';
import { ordered } from '@/library/packs/orders';
import { fetchContents, PACKS } from '../api/packs';
import { useOpenOnBench } from '../api/useEntry';
import { engine } from '../audio/engine';
import { useHand } from '../pieces/useHand';
import { Opened } from '../stepped/Opened';
import { useStepped } from '../stepped/useStepped';
import { useAim } from '../target/useAim';
import { PackForm } from './PackForm';
import type { PackHand } from './packHand';
import { PackHead } from './PackHead';
import { PackLines } from './PackLines';
import { usePackKeys } from './usePackKeys';

/** Samples that are gathered to be given away: what of them is written, and under which names. */
export function PackScreen({ packId }: { packId: string }) {
  const { hand, error } = useStepped(PACKS, ordered, packId);
  return (
    <Opened kind="pack" id={packId} hand={hand} error={error}>
      {(open) => <Open hand={open} />}
    </Opened>
  );
}

function Open({ hand }: { hand: PackHand }) {
  const { state } = hand;
  const openOnBench = useOpenOnBench();
  const ids = state.sampleIds.join();
  const { data, error } = useQuery({
    queryKey: ['pack contents', hand.id, ids],
    queryFn: ({ signal }) => fetchContents(hand.id, signal),
    placeholderData: (before) => before,
  });
  const rows = useMemo(() => new Map((data?.rows ?? []).map((row) => [row.sampleId, row])), [data]);
  const lines = useMemo(() => contentsOf(state, rows), [state, rows]);
  const { atTarget } = state;
  const aim = useAim({
    own: {
      ...{ isOn: atTarget !== null, tempoBpm: atTarget?.tempoBpm ?? null, key: atTarget?.key ?? null },
      ...{ isTape: atTarget?.isTape ?? false, handOver: 'beat', along: 'nothing' },
    },
  });
  useEffect(() => () => engine.stop(), []);
  const list = useHand<PackLine>({
    total: lines.length,
    rowAt: (index) => lines[index] ?? null,
    indexOf: (sampleId) => lines.findIndex((line) => line.sampleId === sampleId),
    asked: hand.id,
  });
  usePackKeys({ hand, lines, list, aim, open: openOnBench });
  const onLook = () => {
    const isNoted = ({ notes, fault }: PackLine) => notes.length > 0 || fault !== null;
    const next = lines.findIndex((line, i) => i > list.selected && isNoted(line));
    list.setSelected(next >= 0 ? next : lines.findIndex(isNoted));
  };
  // Before its samples are known nothing can be said of them.
  if (!data)
    return (
      <p className="p-10 text-center text-ink-soft">
        {error ? <span className="text-one">{error.message}</span> : 'Opening the pack …'}
      </p>
    );
  return (
    <div className="flex h-full flex-col">
      <PackHead hand={hand} lines={lines} contents={data} onLook={onLook} />
      <div className="flex min-h-0 flex-1">
        <PackForm hand={hand} />
        <PackLines hand={hand} lines={lines} list={list} aim={aim} onOpen={openOnBench} />
      </div>
    </div>
  );
}
