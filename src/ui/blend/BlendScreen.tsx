'use client';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { MOST_LANES, type Blend } from '@/contract/blend';
import { comesIn, takenFrom, type Newcomer } from '@/library/blend/newcomer';
import { ordered } from '@/library/blend/orders';
import type { LaneScore } from '@/library/blend/parts';
import type { SampleSummary } from '@/contract/entry';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { changeSample } from '../outbox/sampleOutbox';
import { entryQuery } from '../api/useEntry';
import { engine } from '../audio/engine';
import { Button } from '../pieces/Button';
import { bpmText } from '../pieces/figures';
import { Roles, Zoom } from './BlendBar';
import { BlendHead } from './BlendHead';
import { BlendTransport } from './BlendTransport';
import type { BarsView } from './drawStaff';
import { HarmonyPanel } from './HarmonyPanel';
import { LaneCard } from './LaneCard';
import { Opened } from '../stepped/Opened';
import { wordsOfNewcomer } from './newcomerWords';
import { newcomerOf } from './newcomerOf';
import { nextLaneId, triedLaneId } from './pens';
import { PutIn } from './PutIn';
import { HEAD_WIDTH, STAVES, Staves } from './Staves';
import { TimePanel } from './TimePanel';
import { useBlend, type BlendHand } from './useBlend';
import { useBlendKeys } from './useBlendKeys';
import { useBlendSound } from './useBlendSound';
import { useScore } from './useScore';

/** Several samples on one ruler: do they belong together, how are they bent, and what comes out? */
export function BlendScreen({ blendId }: { blendId: string }) {
  const { hand, error } = useBlend(blendId);
  return (
    <Opened kind="blend" id={blendId} hand={hand} error={error}>
      {(open) => <Open hand={open} />}
    </Opened>
  );
}

const MOST_IN_SIGHT = 48;

/** A blend with something that is only tried; as it is where there is no room. */
function withNewcomer(state: Blend, newcomer: Newcomer): Blend {
  if (state.lanes.length >= MOST_LANES) return state;
  return ordered(state, comesIn(state, newcomer, triedLaneId(state)));
}

function Open({ hand }: { hand: BlendHand }) {
  const { state } = hand;
  const queries = useQueryClient();
  /** A sample of the search that is heard with the others before it is put in. */
  const [tried, setTried] = useState<{ row: SampleSummary; newcomer: Newcomer } | null>(null);
  const heard = useMemo(() => (tried ? withNewcomer(state, tried.newcomer) : state), [tried, state]);
  const scored = useScore(heard);
  const { score } = scored;
  const sound = useBlendSound(hand.id, heard, score);
  const [inHandId, setInHand] = useState<string | null>(null);
  const inHand = state.lanes.some(({ laneId }) => laneId === inHandId)
    ? inHandId
    : (state.lanes[0]?.laneId ?? null);
  const [isPutting, setPutting] = useState(state.lanes.length === 0);
  const [zoom, setZoom] = useState<BarsView | null>(null);
  const [said, setSaid] = useState<string | null>(null);
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
        const newcomer = await newcomerOf(queries, sampleId);
        const order = comesIn(state, newcomer, nextLaneId(state), at);
        setTried(null);
        hand.order(order, `“${newcomer.name}” put in`);
        setInHand(order.lane.laneId);
      } catch (error) {
        toast.error((error as Error).message);
      }
    },
    [queries, hand, state],
  );
  const onTry = useCallback(
    (row: SampleSummary | null) => {
      if (!row) return setTried(null);
      newcomerOf(queries, row.sampleId)
        .then((newcomer) => setTried({ row, newcomer }))
        .catch((error: Error) => toast.error(error.message));
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
      hand.order(
        { do: 'lead', laneId, takes: { ...taken, key: taken.key ?? state.key } },
        `“${lane.name}” leads`,
      );
    },
    [hand, state, scored.facts],
  );
  const onTake = useCallback(
    (laneId: string) => {
      const lane = state.lanes.find((one) => one.laneId === laneId);
      if (lane) hand.order({ do: 'take', laneId }, `“${lane.name}” taken out`);
    },
    [hand, state.lanes],
  );
  const onCorrect = (one: LaneScore, factor: number) => {
    const grid = scored.facts.get(one.lane.sampleId)?.settled.grid;
    if (!grid) return;
    const tempoBpm = Math.round(grid.tempoBpm * factor * 1000) / 1000;
    const words = `tempo ${bpmText(tempoBpm)}, by the Blend`;
    changeSample(one.lane.sampleId, null, { do: 'settle', words, patch: { grid: { ...grid, tempoBpm } } })
      .then((entry) => {
        queries.setQueryData(entryQuery(one.lane.sampleId).queryKey, entry);
        toast.success(
          `“${one.lane.name}” is settled at ${bpmText(tempoBpm)} BPM; the Bench can take that back.`,
        );
      })
      .catch((error: Error) => toast.error(error.message));
  };
  const onSearch = useCallback(() => {
    setPutting(true);
    setTimeout(() => search.current?.focus(), 0);
  }, []);
  useBlendKeys(
    useMemo(
      () => ({ hand, scored, sound, inHand, onSelect: setInHand, onLead, onTake, onSearch }),
      [hand, scored, sound, inHand, onLead, onTake, onSearch],
    ),
  );

  const beatUnder = ({
    active,
    over,
    delta,
    activatorEvent,
  }: DragMoveEvent | DragEndEvent): number | null => {
    if (!active.data.current?.row || over?.id !== STAVES || !(activatorEvent instanceof MouseEvent))
      return null;
    const x = activatorEvent.clientX + delta.x - over.rect.left - HEAD_WIDTH;
    if (x < 0) return 0;
    const bar = view.from + (x / (over.rect.width - HEAD_WIDTH)) * view.bars;
    return Math.max(0, Math.floor(bar)) * size;
  };
  const onDragMove = (event: DragMoveEvent) => {
    const row = event.active.data.current?.row as SampleSummary | undefined;
    const beat = beatUnder(event);
    setSaid(
      row && beat !== null
        ? `“${row.name}” from bar ${beat / size + 1} on: ${wordsOfNewcomer(row, state)}`
        : null,
    );
  };
  const onDragEnd = (event: DragEndEvent) => {
    setSaid(null);
    const row = event.active.data.current?.row as SampleSummary | undefined;
    if (row) {
      const beat = beatUnder(event);
      if (beat !== null) void put(row, beat);
      return;
    }
    const to = state.lanes.findIndex(({ laneId }) => laneId === event.over?.id);
    const from = state.lanes.findIndex(({ laneId }) => laneId === event.active.id);
    if (to >= 0 && from >= 0 && to !== from)
      hand.order({ do: 'move', laneId: state.lanes[from].laneId, to }, `“${state.lanes[from].name}” moved`);
  };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const one = score.lanes.find(({ lane }) => lane.laneId === inHand) ?? null;
  // Before its samples are known nothing can be said of them, and nothing is heard of them.
  const [wasKnown, setKnown] = useState(false);
  if (scored.isKnown && !wasKnown) setKnown(true);
  if (!wasKnown) return <p className="p-10 text-center text-ink-soft">Opening the blend …</p>;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={nearest}
      onDragMove={onDragMove}
      onDragEnd={onDragEnd}
      onDragCancel={() => setSaid(null)}
      accessibility={{
        screenReaderInstructions: {
          draggable:
            'Press Space to lift it, the arrow keys to move it, Space to put it down, Escape to leave it.',
        },
      }}
    >
      <div className="flex h-full flex-col">
        <BlendHead hand={hand} scored={scored} />
        <Staves
          hand={{ ...hand, state: heard }}
          scored={scored}
          sound={sound}
          view={view}
          inHand={inHand}
          onSelect={setInHand}
          said={said ?? (tried ? `heard with the others: ${wordsOfNewcomer(tried.row, state)}` : null)}
        />
        <div className="flex h-8 shrink-0 items-center gap-2 border-t border-rule-strong bg-sheet px-3 text-small">
          <Button
            className="h-6"
            pressed={!isPutting}
            onClick={() => {
              setPutting(false);
              setTried(null);
            }}
          >
            Agreement
          </Button>
          <Button className="h-6" pressed={isPutting} onClick={onSearch} title="Look for samples (F)">
            Put in …
          </Button>
          {state.lanes.length > 1 && inHand && <Roles hand={hand} inHand={inHand} />}
          <span className="ml-auto flex items-center gap-1 text-tiny text-ink-soft">
            bars {Math.max(1, Math.floor(view.from) + 1)} to{' '}
            {Math.min(score.bars, Math.ceil(view.from + view.bars))} of {score.bars}
            <Zoom view={view} bars={score.bars} onView={setZoom} />
          </span>
        </div>
        <div className="flex h-60 shrink-0 border-t border-rule bg-paper">
          {isPutting ? (
            <PutIn
              search={search}
              wordsFor={(row) => wordsOfNewcomer(row, state)}
              tried={tried?.row.sampleId ?? null}
              onTry={onTry}
              onPut={(row) => void put(row)}
              tempoBpm={state.tempoBpm}
              target={state.key}
              isFull={state.lanes.length >= MOST_LANES}
            />
          ) : (
            <div className="grid min-w-0 flex-1 grid-rows-[minmax(0,1fr)] grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)_minmax(0,1.05fr)]">
              <TimePanel
                hand={hand}
                scored={scored}
                inHand={inHand}
                onSelect={setInHand}
                onCorrect={onCorrect}
              />
              <HarmonyPanel hand={hand} scored={scored} inHand={inHand} />
              {one ? (
                <LaneCard
                  key={one.lane.laneId}
                  hand={hand}
                  scored={scored}
                  one={one}
                  onLead={onLead}
                  onTake={onTake}
                />
              ) : (
                <div className="border-l border-rule-strong p-3 text-small text-ink-soft">
                  Choose a lane: what can be said of it stands here.
                </div>
              )}
            </div>
          )}
        </div>
        <BlendTransport hand={hand} scored={scored} sound={sound} />
      </div>
    </DndContext>
  );
}

/** What is put in goes onto the staves under the pointer; a lane goes between its neighbours. */
const nearest: CollisionDetection = (args) => {
  const isNew = args.active.data.current?.row !== undefined;
  const droppableContainers = args.droppableContainers.filter(({ id }) => (id === STAVES) === isNew);
  return (isNew ? pointerWithin : closestCenter)({ ...args, droppableContainers });
};
