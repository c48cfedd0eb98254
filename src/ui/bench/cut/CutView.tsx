'use client';
import { Download, Hammer, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { Recipe } from '@/core/recipes/recipe';
import type { Finds } from '@/core/recipes/finds';
import { barsUntil, feltBeatsPerBar } from '@/core/rhythm/grid';
import { engine } from '../../audio/engine';
import { useEngine } from '../../audio/useEngine';
import { Button } from '../../kit/Button';
import { IconButton } from '../../kit/IconButton';
import { Stepper } from '../../kit/Stepper';
import { BAR_CHOICES } from './cutFields';
import { CutOptions } from './CutOptions';
import { CutPicture } from './CutPicture';
import { CutSeam } from './CutSeam';
import { useHearing } from './useHearing';
import { useTurn } from './useTurn';
import { FindsList } from './FindsList';
import { useHint, useShortcuts } from '../../kit/shortcuts';
import { Empty } from '../../kit/States';
import { CUT } from '../../shortcuts/shortcutTables';
import { useBenchModel } from '../useBenchModel';
import { QuickRecipes } from './QuickRecipes';
import { RenderPreview } from './RenderPreview';
import { MadeLine } from '../../tasks/MadeLine';
import { renderPlace, useRendering } from './useRendering';

/** Cutting and bending: bars selected, previewed in a loop before anything is written, with their loop point and figures. */
export function CutView({ finds }: { finds: Finds | null }) {
  const { bench, looping, cut, lateHits } = useBenchModel();
  const hint = useHint();
  const { grid, entry } = bench;
  const { draft, wanted, renderPlan, fault, chooseBars } = cut;
  const { sampleId, durationSeconds } = entry.summary;
  const hears = useEngine(
    (state) => state.status === 'playing' && state.sampleId === sampleId && engine.target.isOn,
  );
  const isComing = useEngine((state) => state.status === 'loading' && state.sampleId === sampleId);
  const [isAsked, setAsked] = useState(false);
  const [wantedBars, setWantedBars] = useState<number | null>(null);
  const { hear: play, stop } = useHearing(bench, wanted, hears);
  const hear = () => {
    setAsked(true);
    play();
  };
  // What is selected by stepping is heard as soon as it is known what it comes to.
  const hearsNext = useRef(false);
  const hearNext = () => void (hearsNext.current = true);
  useEffect(() => {
    if (!hearsNext.current) return;
    hearsNext.current = false;
    if (!hears) play();
  }, [play, hears]);
  const { render, renderAllStems } = useRendering(bench, cut);
  useShortcuts(CUT, {
    preview: () => (hears ? stop() : hear()),
    render: () => wanted && !cut.doubtful && render([wanted]),
    nextLate: lateHits.next,
    toGrid: lateHits.toggle,
    download: () => wanted && !cut.doubtful && render([wanted], true),
  });
  const turn = useTurn(bench, wanted, renderPlan);
  const { stemSet } = entry.summary;
  if (!grid && draft.region)
    return <Empty>There are no bars to cut without a grid. Set a tempo first.</Empty>;
  const size = grid ? feltBeatsPerBar(grid.meter) : 4;
  const { region } = draft;
  const bar = region ? region.from / size + 1 : 1;
  const bars = region ? (region.to - region.from) / size : 0;
  const most = grid && durationSeconds ? barsUntil(grid, durationSeconds) : 0;
  const stepTo = (toBar: number, toBars: number) =>
    toBar >= 1 && toBars > 0 && toBar - 1 + toBars <= most + 0.01 && chooseBars(toBar, toBars);
  const goingRound = looping.bounds && grid && looping.looped?.kind === 'bars' ? looping.looped : null;
  return (
    <div className="flex min-h-0 flex-1 bg-sheet" data-testid="cut-view">
      <div className="flex min-w-0 flex-1 flex-col overflow-x-hidden overflow-y-auto">
        <div className="flex min-h-9 shrink-0 flex-wrap items-center gap-x-1.5 gap-y-1 border-b border-rule px-2 py-0.5 text-small">
          {region ? (
            <>
              <span className="whitespace-nowrap">Bar</span>
              <Stepper
                label="First bar"
                value={Number(bar.toFixed(2))}
                onStep={(by) => stepTo(Math.max(1, Math.round(bar + by)), Math.round(bars) || 1)}
              />
              <Stepper
                label="Bars"
                value={Number(bars.toFixed(2))}
                onStep={(by) => stepTo(bar, Math.round(bars + by))}
              />
              <span className="mr-1">bars</span>
              {BAR_CHOICES.map((count) => (
                <Button
                  key={count}
                  small
                  pressed={Math.abs(bars - count) < 1e-6}
                  disabled={count > most}
                  onClick={() => {
                    setWantedBars(count);
                    stepTo(Math.min(Math.round(bar), most - count + 1), count);
                  }}
                >
                  {count}
                </Button>
              ))}
              {goingRound && (
                <Button small onClick={() => chooseBars(goingRound.bar, goingRound.bars)}>
                  Range
                </Button>
              )}
            </>
          ) : (
            <span>The whole file, uncut</span>
          )}
          <span className="ml-auto flex flex-wrap items-center justify-end gap-1.5">
            <Button
              pressed={hears}
              disabled={!wanted}
              title={hint(CUT.preview)}
              onClick={() => (hears ? stop() : hear())}
            >
              {hears ? (
                <Square className="size-3.5" aria-hidden />
              ) : (
                <Play className="size-3.5" aria-hidden />
              )}{' '}
              {isComing && isAsked ? 'Rendering…' : 'Preview'}
            </Button>
            <Button
              tone="strong"
              disabled={!wanted || cut.doubtful !== null}
              title={hint(CUT.render)}
              onClick={() => wanted && render([wanted])}
            >
              <Hammer className="size-3.5" aria-hidden /> Render
            </Button>
            <IconButton
              label={hint(CUT.download)}
              className="border-rule-strong!"
              disabled={!wanted || cut.doubtful !== null}
              onClick={() => wanted && render([wanted], true)}
            >
              <Download aria-hidden />
            </IconButton>
            {stemSet?.state === 'joined' && (
              <Button
                disabled={!wanted}
                title={`Render every stem of “${stemSet.name}”`}
                onClick={renderAllStems}
              >
                All stems
              </Button>
            )}
          </span>
        </div>
        {grid && <QuickRecipes grid={grid} most={most} />}
        {cut.doubtful && (
          <p
            role="alert"
            className="flex shrink-0 items-center gap-2 border-b border-rule bg-wash-look px-2 py-1 text-small text-look"
          >
            {cut.doubtful}
            <Button small onClick={() => cut.change({ insists: true })}>
              Render anyway
            </Button>
          </p>
        )}
        <MadeLine place={renderPlace(sampleId)} />
        <RenderPreview wanted={wanted} renderPlan={renderPlan} fault={fault} />
        <CutPicture />
        <CutSeam
          turn={turn}
          without={turnless(wanted, bench.audio !== null)}
          onCrossfade={
            draft.region && draft.region.tail === 'cut' && draft.region.crossfadeMs === 0
              ? () => cut.change({ region: { ...draft.region!, crossfadeMs: CROSSFADE_MS } })
              : null
          }
        />
        <FindsList finds={finds} onRender={render} wantedBars={wantedBars} onHear={hearNext} />
      </div>
      <CutOptions onRender={render} />
    </div>
  );
}

/** A crossfade that takes a crack away and is not heard itself, ms. */
const CROSSFADE_MS = 10;

/** Why no loop point is drawn. */
function turnless(wanted: Recipe | null, isHere: boolean): string {
  if (!isHere) return 'Loading the audio.';
  if (!wanted) return 'Nothing to loop yet.';
  if (wanted.region === null) return 'Whole file: no loop point.';
  return wanted.kind === 'loop' ? 'Too long for a live picture of the loop point.' : 'It does not loop.';
}
