import { ShieldAlert, ShieldCheck, ShieldQuestion } from 'lucide-react';
import type { SampleSummary } from '@/contract/entry';

/** Whether a saved entry's grid is vouched for, as a mark and a word; nothing for samples without a grid. */
export function ProofMark({ proof, tempoBpm }: Pick<SampleSummary, 'proof' | 'tempoBpm'>) {
  if (tempoBpm === null) return null;
  const [Icon, words, tone] =
    proof === 'current'
      ? ([ShieldCheck, 'proved', 'text-good'] as const)
      : proof === 'lost'
        ? ([ShieldAlert, 'proof out of date', 'text-look'] as const)
        : ([ShieldQuestion, 'unproved', 'text-ink-soft'] as const);
  return (
    <span className={`inline-flex items-center gap-1 whitespace-nowrap ${tone}`}>
      <Icon className="size-3.5" aria-hidden />
      {words}
    </span>
  );
}
