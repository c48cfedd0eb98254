'use client';
import { plural } from '@/words/plural';
import { useCallback, useMemo, useRef, type PointerEvent } from 'react';
import type { LaneScore } from '@/library/blend/parts';
import type { Score } from '@/library/blend/score';
import { foldOf, type Flam, type LaneTiming } from '@/library/blend/timing';
import { median } from '@/core/math/median';
import { beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../kit/Button';
import { bpmText, signedText } from '@/words/figures';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { penOf, penStyle } from './pens';
import type { BlendEditor } from './useBlend';
import type { Scored } from './useScore';

interface Props {
  editor: BlendEditor;
  scored: Scored;
  selectedLane: string | null;
  onSelect: (laneId: string) => void;
  onCorrect: (one: LaneScore, tempoFactor: number) => void;
}

/** Bars that the fold has at least, so that few of them are not drawn as blocks. */
const FEWEST_ROWS = 8;
const FROM_TOP = 12;

/** Do the lanes agree in time? The fold of all of them, bar under bar, and what mends what stands beside. */
export function TimePanel({ editor, scored, selectedLane, onSelect, onCorrect }: Props) {
  const { judged: score, timing, flams } = scored;
  const inks = useInks();
  const folded = useMemo(
    () => score.lanes.map((one) => ({ lane: one.lane, hits: foldOf(one, score) })),
    [score],
  );
  const rows = Math.max(FEWEST_ROWS, Math.min(score.bars, 64));
  const size = feltBeatsPerBar(score.grid.meter);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const row = (height - FROM_TOP) / rows;
      for (let beat = 0; beat <= size; beat++) {
        context.fillStyle = beat % size === 0 ? inks.one : inks.rule;
        context.fillRect(Math.min(width - 1, Math.round((beat / size) * width)), FROM_TOP, 1, height);
        if (beat === size) continue;
        context.fillStyle = inks['ink-soft'];
        context.font = '10px "Spline Sans Mono Variable", monospace';
        context.fillText(String(beat + 1), Math.round((beat / size) * width) + 3, 9);
      }
      const shown = [...folded].sort(
        (a, b) => Number(a.lane.laneId === selectedLane) - Number(b.lane.laneId === selectedLane),
      );
      for (const { lane, hits } of shown) {
        context.fillStyle = inks.pens[penOf(lane)];
        context.globalAlpha = lane.muted ? 0.2 : lane.laneId === selectedLane ? 1 : 0.6;
        const tall = Math.max(2, Math.min(9, row - 1));
        for (const { bar, share } of hits)
          if (bar < rows)
            context.fillRect(share * width - 1, FROM_TOP + bar * row + (row - tall) / 2, 2.5, tall);
      }
      context.globalAlpha = 1;
      for (const flam of flams) {
        const bar = flam.bar - 1;
        if (bar >= rows) continue;
        const start = beatTime(score.grid, bar * size);
        const share = (flam.time - start) / (beatTime(score.grid, (bar + 1) * size) - start);
        const bar0 = FROM_TOP + bar * row;
        const apart = flam.ms / 1000 / (beatTime(score.grid, (bar + 1) * size) - start);
        context.fillStyle = inks.one;
        context.fillRect(
          share * width - 1,
          bar0 + Math.min(row - 2, row / 2 + 6),
          Math.max(3, apart * width + 2.5),
          2,
        );
      }
    },
    [folded, rows, size, inks, selectedLane, flams, score.grid],
  );
  const pull = usePull({ editor, scored, selectedLane, onSelect });
  return (
    <section aria-label="Timing" className="flex min-h-0 min-w-0 flex-col">
      <h2 className="flex items-baseline gap-2 px-3 py-1 font-semibold">
        <span className="shrink-0">Timing</span>
        <span
          className="line-clamp-2 min-w-0 text-small leading-tight font-normal text-ink-soft"
          title={answerOf(scored)}
        >
          {answerOf(scored)}
        </span>
      </h2>
      <div className="flex min-h-0 flex-1 gap-2 px-3 pb-2">
        <div
          className="relative min-h-0 min-w-0 flex-1 cursor-ew-resize touch-none bg-sheet"
          role="img"
          aria-label="Fold of the lanes: bar under bar, each in its own colour. Drag the selected lane into place."
          {...pull}
        >
          <Canvas draw={draw} />
        </div>
        <ul
          className="w-50 shrink-0 space-y-1 overflow-y-auto text-tiny"
          aria-label="Lanes against the common beats"
          // It scrolls, also for those who have no wheel.
          tabIndex={0}
        >
          {score.lanes.map((one, i) => (
            <LaneLine
              key={one.lane.laneId}
              one={one}
              timing={timing[i]}
              editor={editor}
              ownTempo={scored.facts.get(one.lane.sampleId)?.settled.grid?.tempoBpm ?? null}
              onCorrect={onCorrect}
            />
          ))}
        </ul>
      </div>
    </section>
  );
}

function answerOf({ timing, flams, judged: score }: Scored): string {
  const message = timing.filter(({ figures }) => figures.medianMs !== null);
  if (message.length < 2) return score.lanes.length < 2 ? '' : 'fewer than two lanes have hits on the beats';
  const wrong = timing.filter(({ leans, isBeside }) => leans || isBeside).length;
  const pairs = flams.length > 0 ? flamWords(flams, score) : '';
  if (wrong === 0 && flams.length === 0) return 'yes';
  return [wrong > 0 && `${wrong} of ${message.length} ${plural(wrong, 'does', 'do')} not`, pairs]
    .filter(Boolean)
    .join('; ');
}

/** The two lanes that flam most, by how much and how often. */
function flamWords(flams: readonly Flam[], score: Score): string {
  const pairs = new Map<string, Flam[]>();
  for (const flam of flams) {
    const pair = [flam.early, flam.late].sort().join(' ');
    pairs.set(pair, [...(pairs.get(pair) ?? []), flam]);
  }
  const [most] = [...pairs.values()].sort((a, b) => b.length - a.length);
  const nameOf = (laneId: string) => score.lanes.find(({ lane }) => lane.laneId === laneId)?.lane.name ?? '';
  const ms = median(most.map((flam) => flam.ms)).toFixed(0);
  const others = pairs.size > 1 ? `, and ${pairs.size - 1} more ${pairs.size === 2 ? 'pair' : 'pairs'}` : '';
  return `${nameOf(most[0].early)} and ${nameOf(most[0].late)} flam by ${ms} ms, ${most.length} times${others}`;
}

function LaneLine({
  one,
  timing: { figures, leans, isBeside, tempoFactor },
  editor,
  ownTempo,
  onCorrect,
}: {
  one: LaneScore;
  timing: LaneTiming;
  editor: BlendEditor;
  ownTempo: number | null;
  onCorrect: Props['onCorrect'];
}) {
  const { lane, attackMs } = one;
  const { medianMs, spreadMs, slopeMsPerBar, hits } = figures;
  const align = () =>
    editor.lane(
      lane.laneId,
      { nudgeMs: alignedOffset(lane.nudgeMs, medianMs ?? 0) },
      `“${lane.name}” aligned`,
    );
  return (
    <li>
      <div className="flex items-baseline gap-1.5">
        <span className="min-w-0 flex-1 truncate font-semibold" style={penStyle(lane)}>
          {lane.name}
        </span>
        <span className="figures text-ink-soft">
          {hits} hits{attackMs >= 5 && `, attack ${attackMs} ms`}
        </span>
      </div>
      {medianMs === null ? (
        <span className="text-ink-soft">too few hits on the beats to judge</span>
      ) : (
        <span className="figures text-ink-soft">
          {signedText(medianMs, 1, 'ms')}, ±{(spreadMs ?? 0).toFixed(1)},{' '}
          {signedText(slopeMsPerBar ?? 0, 2, 'ms/bar')}
        </span>
      )}
      {leans && tempoFactor !== null && ownTempo !== null && (
        <p className="mt-0.5 text-look">
          its tempo is off: {bpmText(ownTempo * tempoFactor)} BPM would match
          <Button small className="mt-0.5 h-5!" onClick={() => onCorrect(one, tempoFactor)}>
            Correct grid
          </Button>
        </p>
      )}
      {isBeside && (
        <p className="mt-0.5 text-look">
          {medianMs! > 0 ? 'late' : 'early'} by {Math.abs(medianMs!).toFixed(0)} ms{' '}
          {!lane.locked && (
            <Button small className="h-5!" onClick={align}>
              Align
            </Button>
          )}
        </p>
      )}
    </li>
  );
}

/** The offset at which the hits of a lane stand on the beats. */
export const alignedOffset = (nudgeMs: number, medianMs: number): number =>
  Math.max(-2000, Math.min(2000, Math.round((nudgeMs - medianMs) * 10) / 10));

/** Pulls the lane selected earlier or later in the fold. */
function usePull({ editor, scored, selectedLane, onSelect }: Omit<Props, 'onCorrect'>) {
  const from = useRef<{ x: number; nudgeMs: number; laneId: string } | null>(null);
  const { judged: score } = scored;
  const barMs = 1000 * (beatTime(score.grid, feltBeatsPerBar(score.grid.meter)) - beatTime(score.grid, 0));
  const patchAt = (event: PointerEvent<HTMLElement>) => {
    const { x, nudgeMs } = from.current!;
    const moved = ((event.clientX - x) / event.currentTarget.clientWidth) * barMs;
    return { nudgeMs: Math.max(-2000, Math.min(2000, Math.round((nudgeMs + moved) * 10) / 10)) };
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      const box = event.currentTarget.getBoundingClientRect();
      const share = (event.clientX - box.left) / box.width;
      // The lane whose hit is nearest to where it is pressed; the one selected first.
      const near = score.lanes
        .filter(({ lane }) => !lane.locked)
        .map((one) => ({
          one,
          away:
            Math.min(...foldOf(one, score).map((hit) => Math.abs(hit.share - share))) -
            (one.lane.laneId === selectedLane ? 0.02 : 0),
        }))
        .sort((a, b) => a.away - b.away)[0];
      if (!near || !Number.isFinite(near.away)) return;
      const { lane } = near.one;
      onSelect(lane.laneId);
      from.current = { x: event.clientX, nudgeMs: lane.nudgeMs, laneId: lane.laneId };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (!from.current) return;
      editor.tryOut({ do: 'lanes', patches: [{ laneId: from.current.laneId, patch: patchAt(event) }] });
    },
    onPointerUp: (event: PointerEvent<HTMLElement>) => {
      const was = from.current;
      if (!was) return;
      const patch = patchAt(event);
      from.current = null;
      editor.tryOut(null);
      if (patch.nudgeMs !== was.nudgeMs)
        editor.lane(was.laneId, patch, `dragged by ${signedText(patch.nudgeMs - was.nudgeMs, 1, 'ms')}`);
    },
    onPointerCancel: () => {
      from.current = null;
      editor.tryOut(null);
    },
  };
}
