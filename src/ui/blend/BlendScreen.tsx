'use client';
import { DndContext } from '@dnd-kit/core';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { MOST_LANES, type Blend } from '@/contract/blend';
import { comesIn, takenFrom, type Incoming } from '@/library/blend/incoming';
import { ordered } from '@/library/blend/orders';
import type { LaneScore } from '@/library/blend/parts';
import type { SampleSummary } from '@/contract/entry';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { changeSample } from '../outbox/sampleOutbox';
import { entryQuery } from '../api/useEntry';
import { engine } from '../audio/engine';
import { Button } from '../kit/Button';
import { bpmText } from '@/words/figures';
import { Roles, Zoom } from './BlendBar';
import { BlendHead } from './BlendHead';
import { BlendTransport } from './BlendTransport';
import type { BarsView } from './drawStaff';
import { HarmonyPanel } from './HarmonyPanel';
import { LaneCard } from './LaneCard';
import { Opened } from '../documents/Opened';
import { wordsOfIncoming } from './incomingWords';
import { incomingOf } from './incomingOf';
import { nextLaneId, triedLaneId } from './pens';
import { isPlayedWhenOpened } from './putIntoBlend';
import { AddSamples } from './AddSamples';
import { Staves } from './Staves';
import { TimePanel } from './TimePanel';
import { useBlend, type BlendEditor } from './useBlend';
import { useBlendKeys } from './useBlendKeys';
import { useBlendSound } from './useBlendSound';
import { useScore } from './useScore';
import { Loading } from '../kit/States';
import { tell } from '../kit/useAction';
import { useHint } from '../kit/shortcuts';
import { BLEND } from '../shortcuts/shortcutTables';
import { MadeLine } from '../tasks/MadeLine';
import { useBlendDrag } from './useBlendDrag';

/** Several samples on one ruler: do they belong together, how are they bent, and what is exported? */
export function BlendScreen({ blendId }: { blendId: string }) {
  const { editor, error } = useBlend(blendId);
  return (
    <Opened kind="blend" id={blendId} editor={editor} error={error}>
      {(open) => <Open editor={open} />}
    </Opened>
  );
}

const MOST_IN_SIGHT = 48;

/** A blend with something that is only tried; as it is where there is no room. */
function withIncoming(state: Blend, incoming: Incoming): Blend {
  if (state.lanes.length >= MOST_LANES) return state;
  return ordered(state, comesIn(state, incoming, triedLaneId(state)));
}

function Open({ editor }: { editor: BlendEditor }) {
  const { state } = editor;
  const hint = useHint();
  const queries = useQueryClient();
  /** A sample of the search that is heard with the others before it is put in. */
  const [tried, setTried] = useState<{ row: SampleSummary; incoming: Incoming } | null>(null);
  const heard = useMemo(() => (tried ? withIncoming(state, tried.incoming) : state), [tried, state]);
  const scored = useScore(heard);
  const { score } = scored;
  const sound = useBlendSound(editor.id, heard, score);
  const [selectedLaneId, setSelectedLane] = useState<string | null>(null);
  const selectedLane = state.lanes.some(({ laneId }) => laneId === selectedLaneId)
    ? selectedLaneId
    : (state.lanes[0]?.laneId ?? null);
  const [isPutting, setPutting] = useState(state.lanes.length === 0);
  const [zoom, setZoom] = useState<BarsView | null>(null);
  const search = useRef<HTMLInputElement>(null);
  const size = feltBeatsPerBar(score.grid.meter);
  const whole: BarsView = {
    from: Math.min(0, Math.floor(beatPosition(score.grid, score.begins) / size + 1e-6)),
    bars: 0,
  };
  whole.bars = Math.min(MOST_IN_SIGHT, score.bars - whole.from);
  const view = zoom ?? whole;

  const put = useCallback(
    async ({ sampleId }: Pick<SampleSummary, 'sampleId'>, at = 0) => {
      try {
        const incoming = await incomingOf(queries, sampleId);
        const order = comesIn(state, incoming, nextLaneId(state), at);
        setTried(null);
        editor.order(order, `“${incoming.name}” added`);
        setSelectedLane(order.lane.laneId);
      } catch (error) {
        tell(error);
      }
    },
    [queries, editor, state],
  );
  const onAdd = useCallback((row: SampleSummary) => void put(row), [put]);
  const onTry = useCallback(
    (row: SampleSummary | null) => {
      if (!row) return setTried(null);
      incomingOf(queries, row.sampleId)
        .then((incoming) => setTried({ row, incoming }))
        .catch(tell);
    },
    [queries],
  );
  // What is tried is heard at once; stopped while it is, it stays so.
  const triedId = tried?.row.sampleId ?? null;
  const { id: soundId, play } = sound;
  useEffect(() => {
    const { sampleId, status } = engine.getState();
    if (triedId !== null && !(sampleId === soundId && status === 'playing')) play(0, false);
  }, [triedId, soundId, play]);

  const onLead = useCallback(
    (laneId: string) => {
      const lane = state.lanes.find((one) => one.laneId === laneId);
      const known = lane && scored.facts.get(lane.sampleId);
      const taken = known ? takenFrom(known) : null;
      if (!lane || !taken) return void toast.error('It has no tempo that the others could follow.');
      editor.order(
        { do: 'lead', laneId, takes: { ...taken, key: taken.key ?? state.key } },
        `“${lane.name}” is the lead`,
      );
    },
    [editor, state, scored.facts],
  );
  const onTake = useCallback(
    (laneId: string) => {
      const lane = state.lanes.find((one) => one.laneId === laneId);
      if (lane) editor.order({ do: 'take', laneId }, `“${lane.name}” removed`);
    },
    [editor, state.lanes],
  );
  const onCorrect = (one: LaneScore, factor: number) => {
    const grid = scored.facts.get(one.lane.sampleId)?.settled.grid;
    if (!grid) return;
    const tempoBpm = Math.round(grid.tempoBpm * factor * 1000) / 1000;
    const words = `tempo ${bpmText(tempoBpm)}, by the Blend`;
    changeSample(one.lane.sampleId, null, { do: 'settle', words, patch: { grid: { ...grid, tempoBpm } } })
      .then((entry) => {
        queries.setQueryData(entryQuery(one.lane.sampleId).queryKey, entry);
        toast.success(`“${one.lane.name}” is now at ${bpmText(tempoBpm)} BPM; undo this on the Bench.`);
      })
      .catch(tell);
  };
  const onSearch = useCallback(() => {
    setPutting(true);
    setTimeout(() => search.current?.focus(), 0);
  }, []);
  useBlendKeys({ editor, scored, sound, selectedLane, onSelect: setSelectedLane, onLead, onTake, onSearch });

  const { said, context } = useBlendDrag({ editor, view, size, onPut: put });
  const one = score.lanes.find(({ lane }) => lane.laneId === selectedLane) ?? null;
  const { isKnown } = scored;
  const blendId = editor.id;
  useEffect(() => {
    if (isKnown && isPlayedWhenOpened(blendId)) play(0, false);
  }, [isKnown, blendId, play]);
  // Before its samples are known nothing can be said of them, and nothing is heard of them.
  const [wasKnown, setKnown] = useState(false);
  if (scored.isKnown && !wasKnown) setKnown(true);
  if (!wasKnown) return <Loading what="the blend" />;
  return (
    <DndContext {...context}>
      <div className="flex h-full flex-col">
        <BlendHead editor={editor} scored={scored} />
        <MadeLine place={`blend ${editor.id}`} />
        <Staves
          editor={{ ...editor, state: heard }}
          scored={scored}
          sound={sound}
          view={view}
          selectedLane={selectedLane}
          onSelect={setSelectedLane}
          said={said ?? (tried ? `playing with the others: ${wordsOfIncoming(tried.row, state)}` : null)}
        />
        <div className="flex h-8 shrink-0 items-center gap-2 border-t border-rule-strong bg-sheet px-3 text-small">
          <Button
            small
            pressed={!isPutting}
            onClick={() => {
              setPutting(false);
              setTried(null);
            }}
          >
            Timing and harmony
          </Button>
          <Button small pressed={isPutting} onClick={onSearch} title={hint(BLEND.find)}>
            Add…
          </Button>
          {state.lanes.length > 1 && selectedLane && <Roles editor={editor} selectedLane={selectedLane} />}
          <span className="ml-auto flex items-center gap-1 text-tiny text-ink-soft">
            bars {Math.max(1, Math.floor(view.from) + 1)} to{' '}
            {Math.min(score.bars, Math.ceil(view.from + view.bars))} of {score.bars}
            <Zoom view={view} bars={score.bars} onView={setZoom} />
          </span>
        </div>
        <div className="flex h-60 shrink-0 border-t border-rule bg-paper">
          {isPutting ? (
            <AddSamples search={search} blend={state} tried={triedId} onTry={onTry} onAdd={onAdd} />
          ) : (
            <div className="grid min-w-0 flex-1 grid-rows-[minmax(0,1fr)] grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)_minmax(0,1.05fr)]">
              <TimePanel
                editor={editor}
                scored={scored}
                selectedLane={selectedLane}
                onSelect={setSelectedLane}
                onCorrect={onCorrect}
              />
              <HarmonyPanel editor={editor} scored={scored} selectedLane={selectedLane} />
              {one ? (
                <LaneCard
                  key={one.lane.laneId}
                  editor={editor}
                  scored={scored}
                  one={one}
                  onLead={onLead}
                  onTake={onTake}
                />
              ) : (
                <div className="border-l border-rule-strong p-3 text-small text-ink-soft">
                  Select a lane to see its settings.
                </div>
              )}
            </div>
          )}
        </div>
        <BlendTransport editor={editor} scored={scored} sound={sound} />
      </div>
    </DndContext>
  );
}
