'use client';
import { useMemo } from 'react';
import { regionOfTimes } from '@/library/recipes/aims';
import type { Traces } from '@/core/traces/traces';
import type { Drawable } from '../trace/waveform';
import { CompareBar } from './CompareBar';
import { CutView } from './cut/CutView';
import { useFinds } from './cut/useFinds';
import { DriftStrip } from './DriftStrip';
import { FoldTools } from './fold/FoldTools';
import { FoldView } from './fold/FoldView';
import { KeyView } from './key/KeyView';
import { LineView } from './line/LineView';
import { SelectionBar } from './line/SelectionBar';
import { Overview } from './Overview';
import { SeamView } from './seam/SeamView';
import { useBenchModel } from './useBenchModel';
import { useNotes } from './useNotes';
import { SnapChoice, ViewBar } from './ViewBar';

const NO_FINDS: readonly { bar: number; bars: number }[] = [];

/** The picture of the sample that is chosen, with its overview and its tools. */
export function MainPictures({ traces }: { traces: Traces }) {
  const model = useBenchModel();
  const { bench, mainView, selected, select, comparing, cut, setMainView } = model;
  const { audio, grid, pinned } = bench;
  const notes = useNotes(bench);
  const finds = useFinds(bench, traces, mainView === 'cut');
  const drawable = useMemo((): Drawable => audio ?? withoutSamples(traces), [audio, traces]);
  const isFold = mainView === 'fold' && grid !== null && pinned !== null;
  return (
    <>
      <Overview audio={drawable} />
      <ViewBar>
        {isFold && <FoldTools />}
        {mainView === 'line' && (
          <span className="text-tiny text-ink-soft">
            drag a line: pin it · Shift + drag: select · wheel: zoom
          </span>
        )}
        {(isFold || mainView === 'line') && (
          <div className={mainView === 'line' ? 'ml-auto' : ''}>
            <SnapChoice />
          </div>
        )}
      </ViewBar>
      {comparing.compared && grid && <CompareBar />}
      {isFold && (
        <FoldView grid={grid} settled={pinned} traces={traces} finds={finds?.stretches ?? NO_FINDS} />
      )}
      {mainView === 'line' && <LineView audio={drawable} notes={notes} />}
      {mainView === 'seam' && <SeamView />}
      {mainView === 'cut' && <CutView finds={finds} />}
      {mainView === 'key' && <KeyView traces={traces} />}
      {selected && (
        <SelectionBar
          selected={selected}
          onCut={
            grid &&
            (() => {
              cut.chooseBeats(regionOfTimes(grid, selected.from, selected.to));
              select(null);
              setMainView('cut');
            })
          }
        />
      )}
      {mainView === 'line' && <DriftStrip />}
    </>
  );
}

/** The extremes alone, until the samples themselves are there. */
const withoutSamples = ({ peaks, durationSeconds }: Traces): Drawable => ({
  ...{ peaks, channels: [], sampleRate: peaks.sampleRate, durationSeconds },
});
