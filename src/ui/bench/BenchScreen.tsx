'use client';
import { remarkWords } from '@/words/remarks';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Pin } from '@/core/rhythm/pins';
import { regionOfTimes } from '@/library/recipes/aims';
import { BANDS } from '@/core/traces/bandStrength';
import { isNote } from '../audio/midi';
import { listenToStretch } from '../audio/listenToStretch';
import { useEngine } from '../audio/useEngine';
import { bpmText, percentText } from '../pieces/figures';
import { rememberOnBench } from '../shell/lastOnBench';
import type { Drawable } from '../trace/waveform';
import { BenchHead } from './BenchHead';
import { CompareBar, type Compared } from './CompareBar';
import { CutView } from './cut/CutView';
import { isAskedFor } from '../family/cutDrafts';
import { useCut } from './cut/useCut';
import { useFinds } from './cut/useFinds';
import { DriftStrip } from './DriftStrip';
import { FoldTools } from './fold/FoldTools';
import { FoldView, type FoldSettings } from './fold/FoldView';
import { gridFollowing, gridSteady, setUpright, SMOOTH_BEATS, stretchMeasured } from './gridMoves';
import { KeyView } from './key/KeyView';
import { leanWords } from './leanWords';
import { LineView } from './line/LineView';
import { StretchBar, type Stretch } from './line/StretchBar';
import { Overview } from './Overview';
import { SeamView } from './seam/SeamView';
import { SidePanel } from './SidePanel';
import { StemsBar } from './StemsBar';
import type { Snap } from './snapping';
import { Transport } from './Transport';
import { useBench, type Bench } from './useBench';
import { useBenchKeys } from './useBenchKeys';
import { useLean } from './useLean';
import { useMidi } from '../keyboard/useMidi';
import { useNotes } from './useNotes';
import { useRound } from './useRound';
import { useSettling } from './useSettling';
import { useTaps } from './useTaps';
import { useView } from './useView';
import { SnapChoice, ViewBar, type MainView } from './ViewBar';

const NO_ONSETS: readonly { time: number; strength: number }[] = [];
const NO_PINS: readonly Pin[] = [];
const NO_FINDS: readonly { bar: number; bars: number }[] = [];
/** Rows of the fold grow and shrink by this factor per step. */
const ROW_STEP = 1.4;

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
  const { entry, traces, audio, grid, shown, pinned, preview } = bench;
  const duration = entry.summary.durationSeconds ?? 1;
  const onsets = entry.measurement?.onsets ?? NO_ONSETS;
  const view = useView(duration);
  const taps = useTaps();
  const midi = useMidi();
  // A pad taps, wherever no keyboard is wanted.
  const { tap } = taps;
  useEffect(
    () => midi.listen((message) => void (isNote(message) && message.on && tap(message.at))),
    [midi, tap],
  );
  const settling = useSettling(bench);
  const rounds = useRound(grid, entry.settled.loop, duration);
  const cut = useCut(bench);
  const notes = useNotes(bench);
  const [wanted, setMainView] = useState<MainView>(() =>
    isAskedFor(entry.summary.sampleId) ? 'cut' : 'fold',
  );
  const [snap, setSnap] = useState<Snap>('hits');
  const [stretch, setStretch] = useState<Stretch | null>(null);
  const [compared, setCompared] = useState<Compared | null>(null);
  const mainView: MainView = wanted === 'fold' && !grid ? 'line' : wanted;

  const finds = useFinds(bench, traces, mainView === 'cut');
  const barBeats = grid ? feltBeatsPerBar(grid.meter) : 4;
  const [fold, setFold] = useState<FoldSettings>({
    rowBeats: barBeats,
    drawing: 'repeats',
    bands: BANDS,
    tall: null,
  });
  // Rows are whole bars also when the meter changes.
  const foldSettings = useMemo(
    () => (fold.rowBeats === 1 || fold.rowBeats % barBeats === 0 ? fold : { ...fold, rowBeats: barBeats }),
    [fold, barBeats],
  );
  const onTall = useCallback((tall: number | null) => setFold((before) => ({ ...before, tall })), []);
  const stepRows = useCallback(
    (way: 1 | -1) =>
      setFold((before) => {
        const tall = (before.tall ?? 6) * (way > 0 ? ROW_STEP : 1 / ROW_STEP);
        return { ...before, tall: tall < 3 ? null : Math.min(110, tall) };
      }),
    [],
  );

  const lean = useLean(onsets, pinned?.grid ?? null);
  const words = useMemo(
    () => (grid ? leanWords(grid, lean, duration) : { text: '', upright: false }),
    [grid, lean, duration],
  );
  const upright = useMemo(
    () =>
      shown && lean && !words.upright
        ? () => settling.settle(setUpright(shown, lean.uprightBpm, lean.uprightOne))
        : null,
    [shown, lean, words.upright, settling],
  );

  // Whatever is settled or pulled meanwhile is drawn and heard instead of the other grid.
  const heard = compared !== null && grid === compared.grid;
  const compare = useCallback(
    (other: Compared | null) => {
      setCompared(other);
      preview(other);
    },
    [preview],
  );
  const toggleCompared = useCallback(() => {
    if (compared) preview(heard ? null : compared);
    else toast('Choose “hear” beside a reading first; then B goes from one grid to the other.');
  }, [compared, heard, preview]);

  const measuring = useRef<AbortController | null>(null);
  const [isMeasuring, setMeasuring] = useState(false);
  useEffect(() => () => measuring.current?.abort(), []);
  const measureStretch = useCallback(async () => {
    if (!audio || !stretch) return;
    measuring.current = new AbortController();
    setMeasuring(true);
    try {
      const found = await listenToStretch(audio, stretch, {}, measuring.current.signal);
      const move = stretchMeasured(shown, found, stretch);
      if (move) settling.settle(move);
      else
        toast.error(found.remarks[0] ? remarkWords(found.remarks[0]) : 'No tempo was found in this stretch.');
    } catch (error) {
      if ((error as Error).name !== 'AbortError') toast.error((error as Error).message);
    } finally {
      setMeasuring(false);
    }
  }, [audio, stretch, shown, settling]);

  useBenchKeys({
    bench,
    view,
    taps,
    settling,
    rounds,
    mainView,
    setMainView,
    snap,
    stepRows,
    setUpright: upright,
    stretch,
    setStretch,
    compare: toggleCompared,
    undo: (mainView === 'cut' && cut.undo) || bench.undo,
    redo: (mainView === 'cut' && cut.redo) || bench.redo,
  });

  const drawable: Drawable | null = audio ?? (traces && withoutSamples(traces.peaks, traces.durationSeconds));
  const onPreview = useCallback((next: Grid | null) => preview(next && { grid: next }), [preview]);
  return (
    <div className="flex h-full flex-col">
      <BenchHead bench={bench} />
      <StemsBar bench={bench} />
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          {drawable && traces ? (
            <>
              <Overview
                audio={drawable}
                grid={grid}
                pins={shown?.pins ?? NO_PINS}
                loop={rounds.bounds}
                view={view}
              />
              <ViewBar view={mainView} onView={setMainView}>
                {mainView === 'fold' && grid && (
                  <FoldTools
                    settings={foldSettings}
                    barBeats={barBeats}
                    onSettings={setFold}
                    words={words}
                    onUpright={upright}
                    moving={Boolean(grid.movingBeats)}
                    onMoving={(moving) => {
                      if (!shown) return;
                      settling.settle(
                        moving ? gridFollowing(shown, onsets, duration, SMOOTH_BEATS) : gridSteady(shown),
                      );
                    }}
                  />
                )}
                {mainView === 'line' && (
                  <span className="text-tiny text-ink-soft">
                    pull a line: pins it · Shift + drag: a stretch · wheel: closer
                  </span>
                )}
                {(mainView === 'fold' || mainView === 'line') && (
                  <div className={mainView === 'line' ? 'ml-auto' : ''}>
                    <SnapChoice snap={snap} onSnap={setSnap} />
                  </div>
                )}
              </ViewBar>
              {compared && grid && (
                <CompareBar
                  compared={compared}
                  heard={heard}
                  settled={pinned ? `${bpmText(pinned.grid.tempoBpm)} BPM` : 'nothing'}
                  onToggle={toggleCompared}
                  onEnd={() => compare(null)}
                />
              )}
              {mainView === 'fold' && grid && pinned && (
                <FoldView
                  settled={pinned}
                  grid={grid}
                  lean={lean}
                  traces={traces}
                  onsets={onsets}
                  swing={entry.measurement?.swing ?? null}
                  settings={foldSettings}
                  onTall={onTall}
                  snap={snap}
                  onPreview={onPreview}
                  onSettle={settling.settle}
                  chosen={cut.isTouched ? cut.draft.region : null}
                  finds={finds?.stretches ?? NO_FINDS}
                  onBars={(bar, bars) => cut.chooseBars(bar, bars)}
                />
              )}
              {mainView === 'line' && (
                <LineView
                  audio={drawable}
                  grid={grid}
                  pins={shown?.pins ?? NO_PINS}
                  settled={pinned}
                  onsets={onsets}
                  loop={rounds.bounds}
                  notes={notes}
                  view={view}
                  snap={snap}
                  stretch={stretch}
                  onStretch={setStretch}
                  onPreview={preview}
                  onSettle={settling.settle}
                />
              )}
              {mainView === 'seam' && <SeamView bench={bench} rounds={rounds} />}
              {mainView === 'cut' && <CutView bench={bench} finds={finds} rounds={rounds} cut={cut} />}
              {mainView === 'key' && <KeyView bench={bench} traces={traces} midi={midi} />}
              {stretch && (
                <StretchBar
                  bench={bench}
                  stretch={stretch}
                  onMove={settling.settle}
                  onRound={() => rounds.setRound({ kind: 'stretch', ...stretch })}
                  onCut={
                    grid &&
                    (() => {
                      cut.chooseBeats(regionOfTimes(grid, stretch.from, stretch.to));
                      setStretch(null);
                      setMainView('cut');
                    })
                  }
                  onMeasure={audio && !isMeasuring ? () => void measureStretch() : null}
                  onClose={() => setStretch(null)}
                />
              )}
              {mainView === 'line' && (
                <DriftStrip grid={grid} onsets={onsets} durationSeconds={duration} view={view} />
              )}
            </>
          ) : (
            <Waiting bench={bench} />
          )}
          <Transport grid={grid} rounds={rounds} row={bench.entry.summary} />
        </div>
        <SidePanel
          snap={snap}
          bench={bench}
          taps={taps}
          lean={lean}
          show={view.show}
          settling={settling}
          compared={heard ? compared : null}
          onCompare={compare}
        />
      </div>
    </div>
  );
}

/** The extremes alone, until the samples themselves are there. */
function withoutSamples(peaks: Drawable['peaks'], durationSeconds: number): Drawable {
  return { peaks, channels: [], sampleRate: peaks.sampleRate, durationSeconds };
}

/** What stands in the place of the trace until there is one. */
function Waiting({ bench }: { bench: Bench }) {
  const fault = useEngine((state) => state.fault);
  const loaded = useEngine((state) => state.loaded);
  const { summary, measurement } = bench.entry;
  const words =
    summary.fault ??
    fault ??
    (measurement
      ? `Fetching, ${percentText(loaded)}`
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
    </div>
  );
}
