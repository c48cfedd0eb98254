'use client';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import clsx from 'clsx';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { barTime, beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { player } from '../audio/player';
import { usePlayer } from '../audio/usePlayer';
import { percentText } from '../pieces/figures';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { rememberOnBench } from '../shell/lastOnBench';
import { BenchHead } from './BenchHead';
import { DriftStrip } from './DriftStrip';
import type { GridMove } from './gridMoves';
import { HistoryCard } from './HistoryCard';
import { LineView } from './LineView';
import { Overview } from './Overview';
import { ProofCard } from './ProofCard';
import { ReadingsTable } from './ReadingsTable';
import { SaveBar } from './SaveBar';
import { SettlePanel } from './SettlePanel';
import { TagsCard } from './TagsCard';
import { Transport } from './Transport';
import { useBench, type Bench } from './useBench';
import { useBenchKeys } from './useBenchKeys';
import { useTaps } from './useTaps';
import { useView } from './useView';

/** Nudges in quick succession are one step of the history; it ends after this pause, ms. */
const GESTURE_PAUSE = 700;
const NO_ONSETS: readonly { time: number; strength: number }[] = [];

export function BenchScreen({ sampleId }: { sampleId: string }) {
  const { bench, error } = useBench(sampleId);
  useEffect(() => rememberOnBench(sampleId), [sampleId]);
  if (error) {
    return (
      <p className="p-16 text-center">
        {error.message}{' '}
        <Link href="/intake" className="underline">
          Back to the Intake
        </Link>
      </p>
    );
  }
  if (!bench) return <p className="p-16 text-center text-ink-soft">Fetching the sample …</p>;
  return <LoadedBench key={bench.entry.measurement ? 'measured' : 'unmeasured'} bench={bench} />;
}

function LoadedBench({ bench }: { bench: Bench }) {
  const { entry, audio, grid, preview, settle } = bench;
  const duration = entry.summary.durationSeconds ?? 1;
  const view = useView(duration);
  const taps = useTaps();
  const [snap, setSnap] = useState(true);
  const [round, setRound] = useState<{ bar: number; bars: number } | null>(null);

  const settleMove = useCallback(
    (move: GridMove) => settle({ grid: move.grid }, move.words, move.reading),
    [settle],
  );
  const pending = useRef<{ move: GridMove; timer: ReturnType<typeof setTimeout> } | null>(null);
  const finishNudge = useCallback(() => {
    if (!pending.current) return;
    clearTimeout(pending.current.timer);
    settleMove(pending.current.move);
    pending.current = null;
  }, [settleMove]);
  const nudge = useCallback(
    (move: GridMove) => {
      if (pending.current) clearTimeout(pending.current.timer);
      preview(move.grid);
      pending.current = { move, timer: setTimeout(finishNudge, GESTURE_PAUSE) };
    },
    [preview, finishNudge],
  );
  const settleNow = useCallback(
    (move: GridMove) => {
      finishNudge();
      settleMove(move);
    },
    [finishNudge, settleMove],
  );
  useEffect(() => finishNudge, [finishNudge]);

  const setLoopBars = useCallback(
    (bars: number) => {
      if (!grid || bars === 0) return setRound(null);
      const here = Math.max(
        1,
        Math.floor(beatPosition(grid, player.position()) / feltBeatsPerBar(grid.meter) + 1e-6) + 1,
      );
      setRound({ bar: here, bars });
    },
    [grid],
  );
  const loop = useMemo(
    () =>
      grid && round
        ? { start: barTime(grid, round.bar), end: Math.min(duration, barTime(grid, round.bar + round.bars)) }
        : null,
    [grid, round, duration],
  );
  useEffect(() => {
    if (audio) player.setLoop(loop);
  }, [audio, loop]);

  const onsets = entry.measurement?.onsets ?? NO_ONSETS;
  const loopBars = round?.bars ?? 0;
  useBenchKeys({ bench, view, taps, nudge, settle: settleNow, loopBars, setLoopBars });

  return (
    <div className="flex h-full flex-col">
      <BenchHead bench={bench} />
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          {audio ? (
            <>
              <Overview audio={audio} grid={grid} loop={loop} view={view} />
              <LineView
                audio={audio}
                grid={grid}
                onsets={onsets}
                loop={loop}
                view={view}
                snap={snap}
                onSnap={setSnap}
                onPreview={preview}
                onSettle={settleNow}
              />
              <DriftStrip grid={grid} onsets={onsets} durationSeconds={duration} view={view} />
            </>
          ) : (
            <Waiting bench={bench} />
          )}
          <Transport grid={grid} loopBars={loopBars} onLoopBars={setLoopBars} />
        </div>
        <aside className="flex w-[23rem] shrink-0 flex-col border-l border-rule-strong">
          <TabGroup className="flex min-h-0 flex-1 flex-col">
            <TabList className="flex shrink-0 border-b border-rule-strong bg-sheet">
              {['Readings', 'Proof', 'Tags', 'History'].map((name) => (
                <Tab
                  key={name}
                  onMouseDown={keepKeysFree}
                  className={({ selected }) =>
                    clsx(
                      'flex-1 border-b-2 py-1.5 text-small',
                      selected
                        ? 'border-one font-semibold'
                        : 'border-transparent text-ink-soft hover:text-ink',
                    )
                  }
                >
                  {name}
                </Tab>
              ))}
            </TabList>
            <TabPanels className="min-h-0 flex-1 overflow-y-auto">
              <TabPanel className="p-3">
                <SettlePanel bench={bench} taps={taps} onMove={settleNow} />
                <ReadingsTable bench={bench} />
              </TabPanel>
              <TabPanel className="p-3">
                <ProofCard bench={bench} view={view} />
              </TabPanel>
              <TabPanel className="p-3">
                <TagsCard bench={bench} />
              </TabPanel>
              <TabPanel className="p-3">
                <HistoryCard bench={bench} />
              </TabPanel>
            </TabPanels>
          </TabGroup>
          <SaveBar bench={bench} />
        </aside>
      </div>
    </div>
  );
}

/** What stands in the place of the trace until there is one. */
function Waiting({ bench }: { bench: Bench }) {
  const { loaded, fault } = usePlayer();
  const { summary } = bench.entry;
  const words =
    summary.fault ??
    fault ??
    (bench.entry.measurement
      ? `Fetching and decoding, ${percentText(loaded)}`
      : 'This sample waits to be measured; it opens by itself when it is.');
  const isFault = Boolean(summary.fault ?? fault);
  return (
    <div className="flex min-h-0 flex-1 flex-col items-center justify-center gap-2 bg-sheet p-8 text-center">
      <p className={isFault ? 'text-one' : 'text-ink-soft'}>{words}</p>
      {isFault && (
        <p className="text-small text-ink-soft">
          The file “{summary.name}” is kept as it arrived; the original can be downloaded.
        </p>
      )}
      {!isFault && bench.entry.measurement && (
        <progress className="h-1.5 w-64 accent-trace" max={1} value={loaded} aria-label="Fetched" />
      )}
    </div>
  );
}
