import type { Blend } from '@/contract/blend';
import { proposalOfRow } from '@/library/samples/aims';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { bpmText } from '@/words/figures';
import { proposalSentence } from '../target/proposalWords';

/** What adding a sample would change, as its row knows it: a sentence. */
export function wordsOfIncoming(row: SampleSummary, { tempoBpm, key, custom }: Blend): string {
  const hasTempo = row.tempoBpm !== null && row.kind !== 'oneshot';
  const isFirst = tempoBpm === null && custom !== 'the tempo stays';
  if (hasTempo && (isFirst || custom === 'the newcomer’s is taken')) {
    const own =
      row.keyTonic !== null && row.keyMode !== null
        ? keyLabel({ tonic: row.keyTonic, mode: row.keyMode })
        : null;
    const becomes = `${bpmText(row.tempoBpm!)} BPM${own ? `, ${own}` : ''}`;
    return tempoBpm === null
      ? `it becomes the lead: the blend is ${becomes}`
      : `the blend goes from ${bpmText(tempoBpm)} to ${becomes}, and all lanes follow`;
  }
  const proposal = proposalOfRow(row, { tempoBpm, key, isTape: false });
  const isBent = proposal.ratio !== 1 || proposal.semitones !== 0 || proposal.cents !== 0;
  return `${isBent ? 'will be stretched' : 'stays as is'}: ${proposalSentence(proposal, row.tempoBpm)}`;
}
