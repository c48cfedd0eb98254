import { Footprints } from 'lucide-react';
import type { ProofPlace } from '@/core/rhythm/drift';
import { Button } from '../../kit/Button';
import type { Verdict, Walk } from './useWalk';

/** The check: one place after the other, each until the click is on time. */
export function CheckBox({
  walk,
  places,
  onAnswer,
}: {
  walk: Walk;
  places: readonly ProofPlace[];
  onAnswer: (verdict: Verdict) => void;
}) {
  const { at, begin, end } = walk;
  if (!at)
    return (
      <Button tone="strong" className="w-full" onClick={begin}>
        <Footprints className="size-3.5" aria-hidden /> Check {places.length} places
      </Button>
    );
  const number = places.findIndex((place) => place.label === at.label) + 1;
  return (
    <div role="group" aria-label="Check" className="space-y-1.5 border border-ink bg-sheet p-2">
      <p>
        <b>
          {number} of {places.length}: {at.label}
        </b>
        , from {at.from.toFixed(1)} s, looped with the click. The click is
      </p>
      <div className="flex gap-1.5">
        <Button onClick={() => onAnswer('early')}>early</Button>
        <Button tone="strong" onClick={() => onAnswer('on')}>
          on
        </Button>
        <Button onClick={() => onAnswer('late')}>late</Button>
        <Button tone="quiet" className="ml-auto" onClick={end}>
          Stop checking
        </Button>
      </div>
      <p className="text-tiny text-ink-soft">
        {at.label === 'beginning'
          ? 'Early and late move the one slightly and play again.'
          : 'Early and late change the tempo slightly and play again.'}
      </p>
    </div>
  );
}
