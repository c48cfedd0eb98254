import { barsText, bpmText, lengthText, signedText } from '@/words/figures';
import type { RenderPlan } from '@/core/recipes/renderPlan';
import type { Recipe } from '@/core/recipes/recipe';
import { recipeWords } from '@/core/recipes/recipeWords';
import { framesAt } from '@/core/signal/resample';

/** What will be rendered, in words and figures; or why nothing can be. */
export function RenderPreview({
  wanted,
  renderPlan,
  fault,
}: {
  wanted: Recipe | null;
  renderPlan: RenderPlan | null;
  fault: string | null;
}) {
  if (!wanted || !renderPlan)
    return (
      <p role="alert" className="shrink-0 border-b border-rule bg-wash-one px-2 py-1 text-small text-one">
        {fault}
      </p>
    );
  const { rounding, grid, bars, length, rate, missingSeconds } = renderPlan;
  const isRounded = Math.abs(rounding.ms) > 0.02;
  return (
    <div className="shrink-0 border-b border-rule px-2 py-1 text-small leading-snug">
      <b>{wanted.name}</b> <span className="text-ink-soft">{recipeWords(wanted)}</span>
      <div className="figures text-tiny text-ink-soft" role="status" data-testid="outcome">
        {wanted.write.format !== 'midi' &&
          `${framesAt(length, rate, wanted.write.sampleRate ?? rate).toLocaleString('en')} frames at ${(wanted.write.sampleRate ?? rate) / 1000} kHz, `}
        {lengthText(length / rate)}
        {bars !== null && ` · ${barsText(bars)}`}
        {grid && ` · ${bpmText(grid.tempoBpm)} BPM`}
        {isRounded &&
          ` · stretched ${signedText(rounding.ms, 2, 'ms')} (${signedText(rounding.perMille, 3, '‰')}) so that bars and frames match`}
        {missingSeconds > 5e-4 && ` · ${Math.ceil(1000 * missingSeconds)} ms of silence added at the end`}
      </div>
    </div>
  );
}
