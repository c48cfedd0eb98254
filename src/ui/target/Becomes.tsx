import clsx from 'clsx';
import type { ReactNode } from 'react';
import type { SampleSummary } from '@/contract/entry';
import type { Proposal, Target } from '@/core/timeStretch/proposal';
import { proposalOfRow } from '@/library/samples/aims';
import { proposalSentence, semitonesText, tempoBecomesShort } from './proposalWords';

interface Props {
  row: SampleSummary;
  target: Target;
}

/** What the target makes of a figure, under it. */
export function Becomes({
  title,
  className,
  children,
}: {
  title?: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    <div
      title={title}
      className={clsx('figures text-tiny font-normal whitespace-nowrap text-trace', className)}
    >
      {children || ' '}
    </div>
  );
}

/** What the target makes of the key of a sample; nothing where it stays. */
export function keyBecomes({ semitones, becomes, otherWay }: Proposal): string {
  if (semitones === 0 && !becomes) return '';
  return otherWay === null
    ? semitonesText(semitones)
    : `${semitonesText(semitones)} or ${semitonesText(otherWay)}`;
}

/** The tempo that a row is played at. */
export function TempoAtTarget({ row, target }: Props) {
  const proposal = proposalOfRow(row, target);
  return (
    proposal && (
      <Becomes title={proposalSentence(proposal, row.tempoBpm)}>
        {tempoBecomesShort(proposal, row.tempoBpm)}
      </Becomes>
    )
  );
}

/** By how much a row is transposed when it is played. */
export function KeyAtTarget({ row, target }: Props) {
  const proposal = proposalOfRow(row, target);
  return proposal && <Becomes>{keyBecomes(proposal)}</Becomes>;
}
