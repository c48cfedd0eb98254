'use client';
import { plural } from '@/words/plural';
import { CLASHES_FROM } from '@/library/blend/harmony';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useDroppable } from '@dnd-kit/core';
import clsx from 'clsx';
import { useCallback, useRef, useState, type ReactNode } from 'react';
import { barTime, beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { MOST_BARS, type Blend } from '@/contract/blend';
import { NumberField } from '../kit/NumberField';
import { barsText, bpmText } from '@/words/figures';
import { useEngine, usePlayhead } from '../audio/useEngine';
import type { BarsView } from './drawStaff';
import { LaneHead } from './LaneHead';
import { LaneStaff } from './LaneStaff';
import type { BlendEditor } from './useBlend';
import type { BlendSound } from './useBlendSound';
import type { Scored } from './useScore';

interface Props {
  editor: BlendEditor;
  scored: Scored;
  sound: BlendSound;
  view: BarsView;
  /** The lane that keys go to. */
  selectedLane: string | null;
  onSelect: (laneId: string) => void;
  /** What is said over the staves while something is dragged. */
  said: string | null;
}

export const HEAD_WIDTH = 288;
/** How tall a staff is, pixels. */
const LOWEST = 42;
const HIGHEST = 84;
/** Where something that is dropped becomes a lane. */
export const STAVES = 'staves';

/** The lanes under one ruler of bars. */
export function Staves({ editor, scored, sound, view, selectedLane, onSelect, said }: Props) {
  const { score, facts, traces } = scored;
  const { state } = editor;
  const { setNodeRef, isOver } = useDroppable({ id: STAVES });
  const count = score.lanes.length;
  const [room, measured] = useRoom();
  const height = Math.max(LOWEST, Math.min(HIGHEST, Math.floor(room / Math.max(1, count))));
  const pull = (laneId: string, from: number, beats: number, isDone: boolean) => {
    const patch = { at: Math.max(-256, from + beats) };
    if (!isDone) return editor.tryOut({ do: 'lanes', patches: [{ laneId, patch }] });
    editor.tryOut(null);
    if (beats !== 0) editor.lane(laneId, patch, `moved by ${beats} ${plural(Math.abs(beats), 'beat')}`);
  };
  const pullTime = (laneId: string, from: number, beats: number, isDone: boolean) => {
    const bpm = score.grid.tempoBpm;
    const patch = { atSeconds: from + (beats * 60) / bpm };
    if (!isDone) return editor.tryOut({ do: 'lanes', patches: [{ laneId, patch }] });
    editor.tryOut(null);
    if (beats !== 0) editor.lane(laneId, patch, 'moved');
  };
  const origin = useRef<Map<string, { at: number; atSeconds: number }>>(new Map());
  return (
    <div ref={setNodeRef} className={clsx('relative flex min-h-0 flex-1 flex-col', isOver && 'bg-wash-good')}>
      <div className="flex h-6 shrink-0 border-b border-rule-strong">
        <div
          className="flex shrink-0 items-center border-r border-rule-strong pl-4 text-tiny text-ink-soft"
          style={{ width: HEAD_WIDTH }}
        >
          <span className="mr-1">Length</span>
          <EndField editor={editor} scored={scored} />
          {score.meetBars !== null && count > 1 && score.meetBars !== score.bars && (
            <span className="ml-2 truncate">all loops realign after {barsText(score.meetBars)}</span>
          )}
        </div>
        <Ruler
          scored={scored}
          changes={state.movement ? [] : state.changes}
          view={view}
          onPlay={sound.play}
        />
      </div>
      <div
        ref={measured}
        className="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto"
        role="list"
        aria-label="Lanes"
      >
        <SortableContext
          items={score.lanes.map(({ lane }) => lane.laneId)}
          strategy={verticalListSortingStrategy}
        >
          {score.lanes.map((one) => {
            const { lane } = one;
            const isTime = lane.held === 'time';
            return (
              <LaneRow key={lane.laneId} laneId={lane.laneId} height={height}>
                <div className="shrink-0" style={{ width: HEAD_WIDTH }}>
                  <LaneHead
                    one={one}
                    facts={facts.get(lane.sampleId) ?? null}
                    blend={state}
                    isSelected={selectedLane === lane.laneId}
                    height={height}
                    onSelect={() => onSelect(lane.laneId)}
                    onMute={() =>
                      editor.lane(
                        lane.laneId,
                        { muted: !lane.muted },
                        lane.muted ? `“${lane.name}” unmuted` : `“${lane.name}” muted`,
                      )
                    }
                    onSolo={() =>
                      editor.lane(
                        lane.laneId,
                        { solo: !lane.solo },
                        `“${lane.name}” ${lane.solo ? 'with the others' : 'solo'}`,
                      )
                    }
                  />
                </div>
                <LaneStaff
                  one={one}
                  score={score}
                  traces={traces.get(lane.sampleId)}
                  view={view}
                  changes={scored.keyChanges.filter(({ laneId }) => laneId === lane.laneId)}
                  onSelect={() => {
                    origin.current.set(lane.laneId, { at: lane.at, atSeconds: lane.atSeconds });
                    onSelect(lane.laneId);
                  }}
                  onPlay={(time) => sound.play(time, false)}
                  onPull={(beats, isDone) => {
                    const from = origin.current.get(lane.laneId) ?? lane;
                    if (isTime) pullTime(lane.laneId, from.atSeconds, beats, isDone);
                    else pull(lane.laneId, from.at, beats, isDone);
                  }}
                />
              </LaneRow>
            );
          })}
        </SortableContext>
        {count === 0 && (
          <p className="mx-auto max-w-xl p-10 text-center text-ink-soft">
            This blend is empty. Find samples below and add them, or press{' '}
            <kbd className="figures border border-rule-strong px-1">P</kbd> on the Shelf. The first sample
            sets tempo and key.
          </p>
        )}
        {count > 0 && <Playhead scored={scored} view={view} id={sound.id} />}
      </div>
      {said && (
        <p
          role="status"
          className="absolute inset-x-0 bottom-0 border-t border-rule-strong bg-wash-good px-4 py-1 text-small"
        >
          {said}
        </p>
      )}
    </div>
  );
}

/** After how many bars it ends: what is heard and written. */
function EndField({ editor, scored }: { editor: BlendEditor; scored: Scored }) {
  const { endBars } = editor.state;
  const { ownBars } = scored.score;
  return (
    <span title="Length of the blend in bars; empty: as long as its lanes">
      <NumberField
        label="Length of the blend, bars"
        unit="bars"
        whole
        least={1}
        most={MOST_BARS}
        placeholder={String(ownBars)}
        className="h-5! w-12 px-1! text-right"
        value={endBars}
        onValue={(next) => editor.set({ endBars: next }, `length ${barsText(next)}`)}
        onEmpty={() => editor.set({ endBars: null }, 'as long as its lanes')}
      />
    </span>
  );
}

/** How much room an element has, pixels. */
function useRoom(): [number, (element: HTMLElement | null) => (() => void) | undefined] {
  const [room, setRoom] = useState(400);
  const measured = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(() => setRoom(element.clientHeight));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [room, measured];
}

function LaneRow({ laneId, height, children }: { laneId: string; height: number; children: ReactNode }) {
  const { setNodeRef, transform, transition, isDragging } = useSortable({ id: laneId });
  return (
    <div
      ref={setNodeRef}
      role="listitem"
      className={clsx('flex border-b border-rule-strong', isDragging && 'relative z-10 opacity-80')}
      style={{ height, transform: CSS.Translate.toString(transform), transition }}
    >
      {children}
    </div>
  );
}

/** Bar numbers; a mark under those in which lanes clash. Pressed it plays from there. */
function Ruler({
  scored: { score, agreement },
  changes,
  view,
  onPlay,
}: {
  scored: Scored;
  changes: Blend['changes'];
  view: BarsView;
  onPlay: (from?: number, countIn?: boolean) => void;
}) {
  const every = view.bars > 160 ? 16 : view.bars > 64 ? 8 : view.bars > 24 ? 4 : 1;
  const first = Math.max(1, Math.floor(view.from) + 1);
  const bars = Array.from({ length: Math.ceil(view.bars) + 1 }, (_, i) => first + i).filter(
    (bar) => (bar - 1) % every === 0 && bar - 1 < view.from + view.bars,
  );
  const place = (bar: number) => `${((bar - 1 - view.from) / view.bars) * 100}%`;
  return (
    <div className="relative min-w-0 flex-1 overflow-hidden bg-sheet">
      {bars.map((bar) => (
        <button
          key={bar}
          type="button"
          tabIndex={-1}
          aria-label={`Play from bar ${bar}`}
          className={clsx(
            'figures absolute inset-y-0 border-l border-rule pl-1 text-left text-tiny hover:bg-wash-ink',
            (bar - 1) % 4 === 0 ? 'text-one' : 'text-ink-soft',
          )}
          style={{ left: place(bar), width: `${(every / view.bars) * 100}%` }}
          onClick={() => onPlay(barTime(score.grid, bar), true)}
        >
          {bar}
        </button>
      ))}
      {changes
        .filter(({ bar }) => bar - 1 >= view.from && bar - 1 < view.from + view.bars)
        .map(({ bar, tempoBpm }) => (
          <span
            key={`to ${bar}`}
            className="figures pointer-events-none absolute top-0 border-l-2 border-one bg-sheet pl-4 text-tiny font-semibold"
            style={{ left: place(bar) }}
            title={`From bar ${bar} on at ${bpmText(tempoBpm)} BPM`}
          >
            → {bpmText(tempoBpm)}
          </span>
        ))}
      {agreement.bars.map((clash, i) =>
        clash !== null && clash >= CLASHES_FROM ? (
          <span
            key={i}
            className="absolute bottom-0 bg-one"
            title={`Clash ${Math.round(100 * clash)} in bar ${i + 1}`}
            style={{ left: place(i + 1), width: `calc(${100 / view.bars}% - 1px)`, height: 1 + 3 * clash }}
          />
        ) : null,
      )}
    </div>
  );
}

/** The place that is heard, over all staves. */
function Playhead({ scored: { score }, view, id }: { scored: Scored; view: BarsView; id: string }) {
  const line = useRef<HTMLDivElement>(null);
  const isMine = useEngine((state) => state.sampleId === id);
  usePlayhead((time) => {
    if (!line.current) return;
    const bar = beatPosition(score.grid, time) / feltBeatsPerBar(score.grid.meter);
    const share = (bar - view.from) / view.bars;
    line.current.style.visibility = share >= 0 && share <= 1 && isMine ? 'visible' : 'hidden';
    line.current.style.transform = `translateX(${share * 100}%)`;
  });
  return (
    <div
      className="pointer-events-none absolute inset-y-0 right-0 overflow-hidden"
      style={{ left: HEAD_WIDTH }}
    >
      <div ref={line} className="absolute inset-0 border-l-2 border-one" />
    </div>
  );
}
