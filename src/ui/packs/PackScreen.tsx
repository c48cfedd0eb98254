'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { contentsOf, type PackLine } from '@/library/packs/contents';
import { ordered } from '@/library/packs/orders';
import { fetchContents, PACKS } from '../api/packs';
import { useOpenOnBench } from '../api/useEntry';
import { engine } from '../audio/engine';
import { useWholeList } from '../list/usePagedList';
import { Opened } from '../documents/Opened';
import { useDocument } from '../documents/useDocument';
import { useAim } from '../target/useAim';
import { PackForm } from './PackForm';
import type { PackEditor } from './packEditor';
import { PackHead } from './PackHead';
import { PackSamples } from './PackSamples';
import { usePackKeys } from './usePackKeys';
import { Awaited } from '../kit/States';

/** Samples that are gathered to be given away: what of them is written, and under which names. */
export function PackScreen({ packId }: { packId: string }) {
  const { editor, error } = useDocument(PACKS, ordered, packId);
  return (
    <Opened kind="pack" id={packId} editor={editor} error={error}>
      {(open) => <Open editor={open} />}
    </Opened>
  );
}

function Open({ editor }: { editor: PackEditor }) {
  const { state } = editor;
  const openOnBench = useOpenOnBench();
  const ids = state.sampleIds.join();
  const asked = useQuery({
    queryKey: ['pack contents', editor.id, ids],
    queryFn: ({ signal }) => fetchContents(editor.id, signal),
    placeholderData: (before) => before,
  });
  const { data } = asked;
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
  const list = useWholeList(lines, editor.id);
  usePackKeys({ editor, list, aim, open: openOnBench });
  const onLook = () => {
    const isNoted = ({ notes, fault }: PackLine) => notes.length > 0 || fault !== null;
    const next = lines.findIndex((line, i) => i > list.cursor.at && isNoted(line));
    list.cursor.moveTo(next >= 0 ? next : lines.findIndex(isNoted));
  };
  // Before its samples are known nothing can be said of them.
  if (!data) return <Awaited of={asked} what="the pack" />;
  return (
    <div className="flex h-full flex-col">
      <PackHead editor={editor} lines={lines} contents={data} onLook={onLook} />
      <div className="flex min-h-0 flex-1">
        <PackForm editor={editor} />
        <PackSamples editor={editor} list={list} aim={aim} onOpen={openOnBench} />
      </div>
    </div>
  );
}
