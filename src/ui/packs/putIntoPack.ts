'use client';
import { counted, plural } from '@/words/plural';
import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { MOST_IN_PACK, type PackOrder } from '@/contract/pack';
import { PACKS } from '../api/packs';
import { lastDocument, sendChange } from '../documents/sendChange';
import { tell } from '../kit/useAction';

/** Puts samples into the pack that was worked on last, from any screen, and says so. */
export function usePutIntoPack(): (sampleIds: readonly string[]) => void {
  const queries = useQueryClient();
  const router = useRouter();
  return useCallback(
    (sampleIds) => {
      if (sampleIds.length === 0) return;
      if (sampleIds.length > MOST_IN_PACK) {
        const [most, many] = [MOST_IN_PACK, sampleIds.length].map((count) => count.toLocaleString('en'));
        toast.error(`A pack holds ${most} samples at most; ${many} are selected.`);
        return;
      }
      const put = async () => {
        const before = await lastDocument(PACKS);
        const { id } = before;
        const words = `${counted(sampleIds.length, 'sample')} added`;
        const order: PackOrder = { do: 'put', sampleIds: [...sampleIds] };
        const kept = await sendChange(PACKS, id, { do: 'order', words, order });
        void queries.invalidateQueries({ queryKey: ['pack', id] });
        const there = sampleIds.length - (kept.state.sampleIds.length - before.state.sampleIds.length);
        toast.success(
          `“${kept.state.name}” now holds ${counted(kept.state.sampleIds.length, 'sample')}` +
            (there > 0 ? `; ${there} of these ${plural(there, 'was', 'were')} in it already.` : '.'),
          { action: { label: 'Open', onClick: () => router.push(`/pack/${id}`) } },
        );
      };
      put().catch(tell);
    },
    [queries, router],
  );
}
