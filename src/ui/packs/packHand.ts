import type { Pack, PackOrder } from '@/contract/pack';
import type { PackLine } from '@/library/packs/contents';
import type { SteppedHand } from '../stepped/useStepped';

export type PackHand = SteppedHand<Pack, PackOrder>;

/** Puts a sample into another place of the pack, from 0. */
export function moveLine(hand: PackHand, line: PackLine, to: number) {
  const { sampleIds } = hand.now();
  const place = Math.max(0, Math.min(sampleIds.length - 1, to));
  if (sampleIds[place] !== line.sampleId)
    hand.order({ do: 'move', sampleId: line.sampleId, to: place }, `“${nameOf(line)}” moved`);
}

/** Takes a sample out of the pack. */
export const takeOut = (hand: PackHand, line: PackLine) =>
  hand.order({ do: 'take', sampleIds: [line.sampleId] }, `“${nameOf(line)}” taken out`);

const nameOf = ({ row }: PackLine) => row?.name ?? 'one that is gone';
