import { figuresProofRequest, type FiguresProofResult } from '@/contract/orders';
import { BULK_AT_ONCE } from '@/contract/orders';
import { kindOfRefusal } from '@/library/change/refusal';
import { changeSamples, refusalMessage, type Actor } from '.';

/**
 * Vouches for samples by their figures, without an ear: only for those whose hits lie on their grid from
 * beginning to end. The others are named with what speaks against it.
 */
export async function proveByFigures(input: unknown, actor: Actor): Promise<FiguresProofResult> {
  const { sampleIds } = figuresProofRequest.parse(input);
  const result: FiguresProofResult = { proved: 0, refused: [] };
  for (let at = 0; at < sampleIds.length; at += BULK_AT_ONCE) {
    const targets = sampleIds.slice(at, at + BULK_AT_ONCE).map((sampleId) => ({ sampleId, base: null }));
    const { done, refused } = await changeSamples({ do: 'prove by figures' }, targets, actor);
    result.proved += done.length;
    result.refused.push(
      ...refused.filter(({ refusal }) => kindOfRefusal(refusal) !== 'gone').map(refusalMessage),
    );
  }
  return result;
}
