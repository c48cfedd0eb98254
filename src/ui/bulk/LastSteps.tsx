'use client';
import { useQuery } from '@tanstack/react-query';
import { useCurators } from '../api/curators';
import { fetchBulkSteps } from '../api/intake';
import { Button } from '../kit/Button';
import { useHint } from '../kit/shortcuts';
import { STEPS } from '../shortcuts/shortcutTables';
import type { useBulk } from './useBulk';

/** The step that Undo undoes and the one that Redo does again, with whose they are. */
export function LastSteps({ bulk }: { bulk: ReturnType<typeof useBulk> }) {
  const { curators, me } = useCurators();
  const hint = useHint();
  const { data } = useQuery({
    queryKey: ['steps', bulk.screen],
    queryFn: ({ signal }) => fetchBulkSteps(bulk.screen, signal),
  });
  const isOthers = (madeBy: string | null) => curators.length > 1 && madeBy !== null && madeBy !== me?.name;
  return (['undo', 'redo'] as const).map((way) => {
    const step = data?.[way];
    if (!step) return null;
    return (
      <Button key={way} title={hint(STEPS[way])} onClick={() => void bulk[way](step.stepId)}>
        {STEPS[way].does}: {step.words}
        {isOthers(step.madeBy) && ` (${step.madeBy})`}
      </Button>
    );
  });
}
