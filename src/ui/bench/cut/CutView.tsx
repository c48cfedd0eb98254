'use client';
import { Hammer, Play, Square } from 'lucide-react';
import { useCallback, useState } from 'react';
import { toast } from 'sonner';
import type { Recipe } from '@/core/recipes/recipe';
import { named, parentOf } from '@/library/recipes/aims';
import type { Making } from '@/core/recipes/making';
import type { Finds } from '@/core/recipes/finds';
import { recipeWords } from '@/core/recipes/recipeWords';
import { barsUntil, feltBeatsPerBar } from '@/core/rhythm/grid';
import { useQueryClient } from '@tanstack/react-query';
import { askRenders } from '../../api/renders';
import { fetchSetOf } from '../../api/stemSets';
import { entryQuery } from '../../api/useEntry';
import { engine } from '../../audio/engine';
import { useEngine } from '../../audio/useEngine';
import { Button } from '../../pieces/Button';
import { barsText, bpmText, lengthText, signedText } from '../../pieces/figures';
import { Stepper } from '../../pieces/Stepper';
import { character, useKeys } from '../../shell/keys';
import type { Bench } from '../useBench';
import type { Rounds } from '../useRound';
import { CutOptions } from './CutOptions';
import { CutPicture } from './CutPicture';
import { CutSeam } from './CutSeam';
import { useHearing } from './useHearing';
import { useTurn } from './useTurn';
import { FindsList } from './FindsList';
import type { Cut } from './useCut';

interface Props {
  bench: Bench;
  finds: Finds | null;
  rounds: Rounds;
  cut: Cut;
}

/** What can be made of the sample: bars chosen, heard going round before anything is written, their turn and their figures. */
export function CutView({ bench, finds, rounds, cut }: Props) {
  const { grid, entry } = bench;
  const { draft, wanted, making, fault, chooseBars } = cut;
  const { sampleId, durationSeconds } = entry.summary;
  const hears = useEngine(
    (state) => state.status === 'playing' && state.sampleId === sampleId && engine.target.isOn,
  );
  const isComing = useEngine((state) => state.status === 'loading' && state.sampleId === sampleId);
  const [isAsked, setAsked] = useState(false);
  const { hear: play, stop } = useHearing(bench, wanted, hears);
  const hear = () => {
    setAsked(true);
    play();
  };
  const make = useCallback(async (recipes: readonly Recipe[]) => {
    try {
      await askRenders({ recipes: [...recipes] });
      toast(
        recipes.length === 1
          ? `“${recipes[0].name}” is being made.`
          : `${recipes.length} samples are being made.`,
      );
    } catch (error) {
      toast.error((error as Error).message);
    }
  }, []);
  useKeys([
    {
      ...{ keys: 'Q', does: 'Hear what would be made, going round, or stop', group: 'Cutting' },
      ...{ matches: character('q'), run: () => (hears ? stop() : hear()) },
    },
    {
      ...{ keys: 'K', does: 'Make it', group: 'Cutting' },
      ...{ matches: character('k'), run: () => wanted && !cut.doubtful && void make([wanted]) },
    },
  ]);
  const turn = useTurn(bench, wanted, making);
  const { stemSet } = entry.summary;
  const queries = useQueryClient();
  /** The same bars of every stem of the set: all are equally long, and begin together. */
  const makeOfAll = async () => {
    if (!wanted || !stemSet) return;
    try {
      const { members } = await fetchSetOf(sampleId);
      const recipes: Recipe[] = [];
      for (const member of members) {
        const stem = await queries.fetchQuery(entryQuery(member.sampleId));
        const parent = parentOf(stem);
        if (parent) recipes.push(named({ ...wanted, parent }, stem, draft.template));
      }
      await make(recipes);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  if (!grid && draft.region)
    return (
      <p className="flex flex-1 items-center justify-center bg-sheet p-8 text-ink-soft">
        Without a grid there are no bars to cut. Settle a tempo first.
      </p>
    );
  const size = grid ? feltBeatsPerBar(grid.meter) : 4;
  const { region } = draft;
  const bar = region ? region.from / size + 1 : 1;
  const bars = region ? (region.to - region.from) / size : 0;
  const most = grid && durationSeconds ? barsUntil(grid, durationSeconds) : 0;
  const step = (toBar: number, toBars: number) =>
    toBar >= 1 && toBars > 0 && toBar - 1 + toBars <= most + 0.01 && chooseBars(toBar, toBars);
  const goingRound = rounds.bounds && grid && rounds.round?.kind === 'bars' ? rounds.round : null;
  return (
    <div className="flex min-h-0 flex-1 bg-sheet" data-testid="cut-view">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex h-9 shrink-0 items-center gap-1.5 border-b border-rule px-2 text-small">
          {region ? (
            <>
              <span className="whitespace-nowrap">Bar</span>
              <Stepper
                label="First bar"
                value={Number(bar.toFixed(2))}
                onStep={(by) => step(Math.max(1, Math.round(bar + by)), Math.round(bars) || 1)}
              />
              <Stepper
                label="Bars"
                value={Number(bars.toFixed(2))}
                onStep={(by) => step(bar, Math.round(bars + by))}
              />
              <span className="mr-1">bars</span>
              {[1, 2, 4, 8, 16].map((count) => (
                <Button
                  key={count}
                  className="h-6 px-1.5"
                  pressed={Math.abs(bars - count) < 1e-6}
                  disabled={count > most}
                  onClick={() => step(Math.min(Math.round(bar), most - count + 1), count)}
                >
                  {count}
                </Button>
              ))}
              {goingRound && (
                <Button className="h-6" onClick={() => chooseBars(goingRound.bar, goingRound.bars)}>
                  What goes round
                </Button>
              )}
            </>
          ) : (
            <span>All of it, without a cut</span>
          )}
          {grid && most > 0 && (
            <Button
              className="h-6"
              onClick={() =>
                region
                  ? cut.change({ region: null, kind: entry.summary.kind ?? 'song' })
                  : chooseBars(1, Math.min(4, most))
              }
            >
              {region ? 'All of it' : 'Only bars'}
            </Button>
          )}
          <span className="ml-auto" />
          <Button
            className="h-7"
            pressed={hears}
            disabled={!wanted}
            title="What would be written, going round (Q)"
            onClick={() => (hears ? stop() : hear())}
          >
            {hears ? <Square className="size-3.5" aria-hidden /> : <Play className="size-3.5" aria-hidden />}{' '}
            {isComing && isAsked ? 'Making …' : 'Hear it'}
          </Button>
          <Button
            className="h-7"
            tone="strong"
            disabled={!wanted || cut.doubtful !== null}
            title="(K)"
            onClick={() => wanted && void make([wanted])}
          >
            <Hammer className="size-3.5" aria-hidden /> Make it
          </Button>
          {stemSet?.state === 'joined' && (
            <Button
              className="h-7"
              disabled={!wanted}
              title={`The same of every stem of “${stemSet.name}”`}
              onClick={() => void makeOfAll()}
            >
              of all stems
            </Button>
          )}
        </div>
        {cut.doubtful && (
          <p
            role="alert"
            className="flex shrink-0 items-center gap-2 border-b border-rule bg-wash-look px-2 py-1 text-small text-look"
          >
            {cut.doubtful}
            <Button className="h-6" onClick={() => cut.change({ insists: true })}>
              All the same
            </Button>
          </p>
        )}
        <Outcome wanted={wanted} making={making} fault={fault} />
        <CutPicture bench={bench} cut={cut} making={making} />
        <CutSeam turn={turn} />
        <FindsList bench={bench} finds={finds} cut={cut} onMake={make} />
      </div>
      <CutOptions bench={bench} cut={cut} onMake={make} />
    </div>
  );
}

/** What will come of it, in words and figures; or why nothing can. */
function Outcome({
  wanted,
  making,
  fault,
}: {
  wanted: Recipe | null;
  making: Making | null;
  fault: string | null;
}) {
  if (!wanted || !making)
    return (
      <p role="alert" className="shrink-0 border-b border-rule bg-wash-one px-2 py-1 text-small text-one">
        {fault}
      </p>
    );
  const { rounding, grid, bars, length, rate } = making;
  const isRounded = Math.abs(rounding.ms) > 0.02;
  return (
    <div className="shrink-0 border-b border-rule px-2 py-1 text-small leading-snug">
      <b>{wanted.name}</b> <span className="text-ink-soft">{recipeWords(wanted)}</span>
      <div className="figures text-tiny text-ink-soft" role="status" data-testid="outcome">
        {wanted.write.format !== 'midi' && `${length.toLocaleString('en')} frames, `}
        {lengthText(length / rate)}
        {bars !== null && ` · ${barsText(bars)}`}
        {grid && ` · ${bpmText(grid.tempoBpm)} BPM`}
        {isRounded &&
          ` · made ${signedText(rounding.ms, 2, 'ms')} (${signedText(rounding.perMille, 3, '‰')}) so that bars and frames agree`}
      </div>
    </div>
  );
}
