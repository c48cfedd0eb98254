'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { MOST_IN_PACK, type PackOrder } from '@/contract/pack';
import { PACKS } from '../api/packs';
import { atHand, sendChange } from '../stepped/sendChange';

const counted = (count: number) => `${count} ${count === 1 ? 'sample' : 'samples'}`;

/** Puts samples into the pack that was worked on last, from any screen, and says so. */
export function usePutIntoPack(): (sampleIds: readonly string[]) => void {
  const queries = useQueryClient();
  const router = useRouter();
  return useCallback(
    (sampleIds) => {
      if (sampleIds.length === 0) return;
      if (sampleIds.length > MOST_IN_PACK) {
        const [most, many] = [MOST_IN_PACK, sampleIds.length].map((count) => count.toLocaleString('en'));
        toast.error(`A pack holds ${most} samples at most, and ${many} are chosen: narrow the list.`);
        return;
      }
      const put = async () => {
        const before = await atHand(PACKS);
        const { id } = before;
        const words = `${counted(sampleIds.length)} put in`;
        const order: PackOrder = { do: 'put', sampleIds: [...sampleIds] };
        const kept = await sendChange(PACKS, id, { do: 'order', words, order });
        void queries.invalidateQueries({ queryKey: ['pack', id] });
        const there = sampleIds.length - (kept.state.sampleIds.length - before.state.sampleIds.length);
        toast.success(
          `${counted(kept.state.sampleIds.length)} in the pack “${kept.state.name}”` +
            (there > 0 ? `; ${there} of these ${there === 1 ? 'was' : 'were'} in it already.` : '.'),
          { action: { label: 'Open it', onClick: () => router.push(`/pack/${id}`) } },
        );
      };
      put().catch((error: Error) => toast.error(error.message));
    },
    [queries, router],
  );
}
