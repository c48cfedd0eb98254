import type { Blend } from '@/contract/blend';
import { proposalOfRow } from '@/library/samples/aims';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { bpmText } from '../pieces/figures';
import { proposalSentence } from '../target/proposalWords';

/** What would change to what if a sample were put in, as its row knows it: a sentence. */
export function wordsOfNewcomer(row: SampleSummary, { tempoBpm, key, custom }: Blend): string {
  const hasTempo = row.tempoBpm !== null && row.kind !== 'oneshot';
  const isFirst = tempoBpm === null && custom !== 'the tempo stays';
  if (hasTempo && (isFirst || custom === 'the newcomer’s is taken')) {
    const own =
      row.keyTonic !== null && row.keyMode !== null
        ? keyLabel({ tonic: row.keyTonic, mode: row.keyMode })
        : null;
    const becomes = `${bpmText(row.tempoBpm!)} BPM${own ? `, ${own}` : ''}`;
    return tempoBpm === null
      ? `it leads: the blend is ${becomes}`
      : `the blend goes from ${bpmText(tempoBpm)} to ${becomes}, and all follow it`;
  }
  const proposal = proposalOfRow(row, { tempoBpm, key, isTape: false });
  const isBent = proposal.ratio !== 1 || proposal.semitones !== 0 || proposal.cents !== 0;
  return `${isBent ? 'it is fitted' : 'it comes in as it is'}: ${proposalSentence(proposal)}`;
}
